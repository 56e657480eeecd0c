import { Menu, Popover, TextInput } from "@mantine/core";
import { useState } from "react";

export interface Choice {
  value: string;
  label: string;
}

interface PartProps {
  name: string;
  text: string;
  said?: string;
  searchable?: boolean;
  choices?: Choice[];
  onPick?: (choice: Choice) => void;
  onRemove?: () => void;
}

/** One part of the reading: shows its words, can be picked anew or taken off. */
export function Part({ name, text, said, searchable, choices, onPick, onRemove }: PartProps) {
  const [search, setSearch] = useState("");
  const [opened, setOpened] = useState(false);
  const title = said ? `${name}, from “${said}”` : `${name}, not said`;
  const shown = choices?.filter((c) => c.label.toLowerCase().includes(search.toLowerCase())).slice(0, 40) ?? [];
  const pick = (c: Choice) => {
    setOpened(false);
    setSearch("");
    onPick?.(c);
  };
  return (
    <span className={`part ${said ? "said" : ""}`} data-part={name}>
      {!choices ? (
        <span className="chip" title={title}>
          {text}
        </span>
      ) : searchable ? (
        <Popover opened={opened} onChange={setOpened} position="bottom-start" trapFocus>
          <Popover.Target>
            <button
              type="button"
              className="chip"
              title={title}
              aria-label={`${name}: ${text}. Change`}
              onClick={() => setOpened(!opened)}
            >
              {text}
            </button>
          </Popover.Target>
          <Popover.Dropdown className="picker">
            <TextInput
              size="xs"
              aria-label={`Search for another ${name}`}
              placeholder="Search"
              value={search}
              onChange={(e) => setSearch(e.currentTarget.value)}
              onKeyDown={(e) => e.key === "Enter" && shown[0] && pick(shown[0])}
            />
            <ul>
              {shown.map((c) => (
                <li key={c.value}>
                  <button type="button" onClick={() => pick(c)}>
                    {c.label}
                  </button>
                </li>
              ))}
              {shown.length === 0 && <li>Nothing of that name</li>}
            </ul>
          </Popover.Dropdown>
        </Popover>
      ) : (
        <Menu position="bottom-start" withinPortal={false}>
          <Menu.Target>
            <button type="button" className="chip" title={title} aria-label={`${name}: ${text}. Change`}>
              {text}
            </button>
          </Menu.Target>
          <Menu.Dropdown>
            {shown.map((c) => (
              <Menu.Item key={c.value} onClick={() => pick(c)}>
                {c.label}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
      )}
      {onRemove && (
        <button type="button" className="remove" aria-label={`Remove ${name} ${text}`} onClick={onRemove}>
          ×
        </button>
      )}
    </span>
  );
}
