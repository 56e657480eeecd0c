import { Autocomplete, Button } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Book, type LoadRequest, type Refusal } from "../api/client";

interface UnknownProps {
  book: Book;
  refusal: Refusal;
  request: LoadRequest;
  onChange: (r: LoadRequest) => void;
}

/** A text that no member goes by: say which member it stands for, or add it below one. */
export function Unknown({ book, refusal, request, onChange }: UnknownProps) {
  const role = refusal.unknown ?? "";
  const text = refusal.value ?? "";
  const dimension =
    book.dimensions.find((d) => role === d.role || role === `dimension:${d.code}`) ?? book.dimensions[0];
  const [typed, setTyped] = useState("");
  const [search] = useDebouncedValue(typed, 120);
  const word = search.split(" ")[0] ?? "";
  // What was chosen stays found while more is fetched: a button that goes dead for a moment swallows the click on it.
  const members = useQuery({
    queryKey: ["members", book.id, book.edition, dimension?.code, word],
    queryFn: () => api.members(book, dimension?.code ?? "account", word),
    placeholderData: keepPreviousData,
  });
  const found = members.data?.items.find((m) => typed === `${m.code} ${m.name}`);
  if (!dimension) return null;
  return (
    <span className="fix">
      <Autocomplete
        aria-label={`What ${text} stands for`}
        w={340}
        placeholder={`${dimension.name} it stands for, or to add it below`}
        size="xs"
        value={typed}
        onChange={setTyped}
        data={[...new Set((members.data?.items ?? []).map((m) => `${m.code} ${m.name}`))]}
        filter={({ options }) => options}
      />
      <Button
        size="compact-xs"
        variant="default"
        disabled={!found}
        onClick={() =>
          onChange({
            ...request,
            lookUps: { ...request.lookUps, [role]: { ...request.lookUps?.[role], [text]: found?.code ?? "" } },
          })
        }
      >
        It stands for this
      </Button>
      <Button
        size="compact-xs"
        variant="default"
        disabled={!found}
        onClick={() =>
          onChange({
            ...request,
            add: [
              ...(request.add ?? []),
              { dimension: dimension.code, code: text, name: text, parent: found?.code ?? null },
            ],
          })
        }
      >
        Add it below this
      </Button>
    </span>
  );
}
