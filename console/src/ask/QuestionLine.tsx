import { Button, Combobox, Loader, TextInput, useCombobox } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type RefObject, useEffect, useState } from "react";
import { type AnswerSet, api, type Book } from "../api/client";

interface QuestionLineProps {
  ref: RefObject<HTMLInputElement | null>;
  book: Book;
  busy: boolean;
  follows: boolean;
  /** What could not be answered, to be changed; undefined when there is nothing of the kind. */
  unanswered: AnswerSet | undefined;
  onAsk: (text: string) => void;
  onAfresh: () => void;
}

/** Where one types. Completes with the book's own words from any place in the sentence; Tab or a click takes one. */
export function QuestionLine({ ref, book, busy, follows, unanswered, onAsk, onAfresh }: QuestionLineProps) {
  const [text, setText] = useState("");
  const [typed] = useDebouncedValue(text, 80);
  const combobox = useCombobox({ onDropdownClose: () => combobox.resetSelectedOption() });
  const completions = useQuery({
    queryKey: ["complete", book.id, book.edition, typed],
    queryFn: () => api.complete(book, typed),
    enabled: typed.trim().length > 1,
    placeholderData: keepPreviousData,
  });
  // It comes back selected: typing replaces it, moving into it changes it.
  useEffect(() => {
    const asked = unanswered?.asked;
    if (!asked) return;
    setText((now) => now || asked);
    requestAnimationFrame(() => ref.current?.value === asked && ref.current.select());
  }, [unanswered, ref]);
  const items = typed === text && text.trim().length > 1 ? (completions.data?.items ?? []) : [];

  function ask() {
    if (text.trim().length === 0) return;
    combobox.closeDropdown();
    onAsk(text.trim());
    setText("");
  }

  function insert(value: string) {
    setText(`${text.slice(0, completions.data?.from ?? text.length)}${value} `);
    combobox.closeDropdown();
  }

  return (
    <form
      className="questionline"
      onSubmit={(e) => {
        e.preventDefault();
        if (combobox.getSelectedOptionIndex() < 0) ask();
      }}
    >
      <Combobox store={combobox} onOptionSubmit={insert} position="bottom-start" withinPortal={false}>
        <Combobox.Target>
          <TextInput
            ref={ref}
            size="md"
            aria-label="Your question"
            placeholder={
              follows
                ? `Follow up: “by ${finest(book)} instead”, “add last year”, “the largest one”, “go back” — or ask anew`
                : `Ask: ${book.suggestions[0] ?? "revenue versus budget by month"}`
            }
            value={text}
            maxLength={1000}
            autoComplete="off"
            onChange={(e) => {
              setText(e.currentTarget.value);
              combobox.openDropdown();
              combobox.resetSelectedOption();
            }}
            onBlur={() => combobox.closeDropdown()}
            onKeyDown={(e) => {
              const first = items[Math.max(0, combobox.getSelectedOptionIndex())];
              if (e.key === "Tab" && combobox.dropdownOpened && first) {
                e.preventDefault();
                insert(first.insert);
              }
              if (e.key === "Escape") combobox.closeDropdown();
            }}
            rightSection={busy ? <Loader size="xs" aria-label="Working" /> : null}
          />
        </Combobox.Target>
        <Combobox.Dropdown hidden={items.length === 0} className="completions">
          <Combobox.Options aria-label="Words of this book">
            {items.map((item) => (
              <Combobox.Option key={`${item.kind}-${item.text}-${item.detail}`} value={item.insert}>
                <span>{item.text}</span>
                <small>{item.detail}</small>
              </Combobox.Option>
            ))}
          </Combobox.Options>
        </Combobox.Dropdown>
      </Combobox>
      <Button type="submit" size="md">
        Ask
      </Button>
      {follows && (
        <Button size="md" variant="default" onClick={onAfresh} title="Alt+N">
          Start afresh
        </Button>
      )}
    </form>
  );
}

/** The level by which most is asked, in this book's own word. */
function finest(book: Book): string {
  const entities = book.dimensions.find((d) => d.role === "entity");
  return (entities?.levels.at(-1) ?? "month").toLowerCase();
}
