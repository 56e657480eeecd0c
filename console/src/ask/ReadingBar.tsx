import { Menu, Popover, TextInput } from "@mantine/core";
import { useState } from "react";
import type { AnswerSet, Book, Question } from "../api/client";

interface ReadingBarProps {
  book: Book;
  reading: AnswerSet["reading"];
  question: Question;
  onPut: (q: Question, label: string) => void;
}

interface Choice {
  value: string;
  label: string;
}

/** How the question was read, part by part; each part can be changed in place. */
export function ReadingBar({ book, reading, question: q, onPut }: ReadingBarProps) {
  const words = (part: string) => reading?.parts.find((p) => p.part === part && p.words.length > 0)?.words;
  const sides: Choice[] = [
    ...book.scenarios.map((s) => ({ value: s.code, label: s.name })),
    { value: "prior-year", label: "Prior year" },
    { value: "prior-period", label: "Prior period" },
  ];
  const splits: Choice[] = [
    ...book.dimensions
      .filter((d) => d.members > 0)
      .flatMap((d) => d.levels.slice(d.levels.length > 1 ? 1 : 0).map((l) => ({ value: `${d.code}:${l}`, label: l }))),
    ...["month", "quarter", "year"].map((g) => ({ value: g, label: g[0]?.toUpperCase() + g.slice(1) })),
  ];
  const means = (part: string) => reading?.parts.filter((p) => p.part === part).map((p) => p.means) ?? [];
  const figure = book.figures.find((f) => f.ref === q.figure)?.name ?? means("figure")[0] ?? q.figure;
  const periodName = (code: string) => book.periods.find((p) => p.code === code)?.name ?? code.replace("..", " to ");
  const sideName = (code: string) => sides.find((s) => s.value === code.split(":")[0])?.label ?? code;
  return (
    <section className="reading" aria-label="How the question was read">
      <span className="lead">{q.intent === "why" ? "Why" : q.intent === "entries" ? "Entries of" : "Read as"}</span>
      <Part
        name="figure"
        said={words("figure")}
        text={figure}
        searchable
        choices={book.figures.map((f) => ({ value: f.ref, label: f.name }))}
        onPick={(c) =>
          onPut({ ...q, figure: c.value, breakdowns: q.breakdowns.filter((b) => b.by !== "account") }, c.label)
        }
      />
      <Part
        name="scenario"
        said={words("scenario")}
        text={sideName(q.subject)}
        choices={sides.filter((s) => !s.value.startsWith("prior"))}
        onPick={(c) => onPut({ ...q, subject: c.value }, `${c.label} as the subject`)}
      />
      {q.bases.length > 0 && <span className="lead">against</span>}
      {q.bases.map((b, i) => (
        <Part
          key={b}
          name="base"
          said={words("base")}
          text={sideName(b)}
          choices={sides.filter((s) => s.value !== q.subject)}
          onPick={(c) => onPut({ ...q, bases: q.bases.map((o, j) => (j === i ? c.value : o)) }, `against ${c.label}`)}
          onRemove={
            q.bases.length > 1
              ? () => onPut({ ...q, bases: q.bases.filter((_, j) => j !== i) }, `without ${sideName(b)}`)
              : undefined
          }
        />
      ))}
      {q.spans.map((s, i) => (
        <Part
          key={s}
          name="period"
          said={words("period")}
          text={periodName(s)}
          searchable
          choices={book.periods.map((p) => ({ value: p.code, label: p.name }))}
          onPick={(c) => onPut({ ...q, spans: q.spans.map((o, j) => (j === i ? c.value : o)) }, c.label)}
        />
      ))}
      {q.filters.map((f, i) => (
        <Part
          key={`${f.dimension}${f.exclude}`}
          name="filter"
          said={words("filter")}
          text={`${f.exclude ? "without " : ""}${f.members.map((m) => memberName(reading, f.dimension, m)).join(", ")}`}
          onRemove={() => onPut({ ...q, filters: q.filters.filter((_, j) => j !== i) }, `all ${f.dimension} members`)}
        />
      ))}
      <span className="lead">by</span>
      {(q.breakdowns.length > 0 ? q.breakdowns : [null]).map((b, i) => (
        <Part
          key={b ? `${b.by}${b.level}` : "usual"}
          name="breakdown"
          said={words("breakdown")}
          text={b ? (b.level ?? b.by).toLowerCase() : "the usual rows"}
          choices={splits}
          onPick={(c) => {
            const [by = "", level] = c.value.split(":");
            const chosen = { by, level: level ?? null };
            onPut(
              { ...q, ranking: null, breakdowns: b ? q.breakdowns.map((o, j) => (j === i ? chosen : o)) : [chosen] },
              `by ${c.label.toLowerCase()}`,
            );
          }}
        />
      ))}
      {q.ranking && (
        <Part
          name="ranking"
          said={words("ranking")}
          text={means("ranking")[0] ?? `the first ${q.ranking.count}`}
          onRemove={() => onPut({ ...q, ranking: null }, "all rows")}
        />
      )}
      {(q.conditions ?? []).map((c, i) => (
        <Part
          key={`${c.on}${c.direction}${c.value}`}
          name="condition"
          said={words("condition")}
          text={`only rows ${means("condition")[i] ?? `of at least ${c.value}`}`}
          onRemove={() =>
            onPut({ ...q, conditions: (q.conditions ?? []).filter((_, j) => j !== i) }, "without that condition")
          }
        />
      ))}
      {q.share && (
        <Part
          name="share"
          said={words("share")}
          text="share of the total"
          onRemove={() => onPut({ ...q, share: null }, "without shares")}
        />
      )}
      {q.cumulative && (
        <Part
          name="cumulative"
          said={words("cumulative")}
          text="cumulative"
          onRemove={() => onPut({ ...q, cumulative: null }, "not cumulative")}
        />
      )}
      {q.growth && (
        <Part
          name="growth"
          said={words("growth")}
          text="as growth"
          onRemove={() => onPut({ ...q, growth: null }, "as effect on profit")}
        />
      )}
      {q.document && <Part name="document" said={words("document")} text={`document ${q.document}`} />}
      {reading && (reading.assumed.length > 0 || reading.unused.length > 0) && (
        <p className="assumed">
          {reading.unused.length > 0 && <strong>Not used: {reading.unused.join(", ")}. </strong>}
          {reading.assumed.length > 0 && <>Assumed: {reading.assumed.join("; ")}.</>}
        </p>
      )}
    </section>
  );
}

function memberName(reading: AnswerSet["reading"], dimension: string, code: string): string {
  const part = reading?.parts.find(
    (p) => p.part === "filter" && p.value.startsWith(dimension) && p.value.endsWith(code),
  );
  return part && !part.value.includes(",") ? part.means.replace(/^(for|without) /, "") : code;
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

function Part({ name, text, said, searchable, choices, onPick, onRemove }: PartProps) {
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
    <span className={`part ${said ? "said" : ""}`}>
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
