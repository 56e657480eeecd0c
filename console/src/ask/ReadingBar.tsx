import { type SyntheticEvent, useState } from "react";
import type { AnswerSet, Book, Question } from "../api/client";
import { type Choice, Part } from "./Part";
import {
  asking,
  asTable,
  basesOf,
  conditionsOf,
  filtersOf,
  inScope,
  laid,
  ofKind,
  ofRows,
  rowsOf,
  subjectOf,
} from "./question";
import { RecordParts } from "./RecordParts";

interface ReadingBarProps {
  book: Book;
  reading: AnswerSet["reading"];
  question: Question;
  /** The words that were typed; what led here otherwise. */
  asked: string;
  onPut: (q: Question, label: string) => void;
}

/** How the question was read, part by part; each part can be changed in place, and shows the words that it comes from. */
export function ReadingBar({ book, reading, question: q, asked, onPut }: ReadingBarProps) {
  const [lit, setLit] = useState<string | null>(null);
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
  // Entries are lines of their own, and have no rows to be split into.
  const { figure: ref, periods, currency } = q.scope;
  const { kind } = q;
  const rows = rowsOf(q);
  const splitBy = rows.length > 0 ? rows : kind.is === "entries" ? [] : [null];
  const bases = basesOf(q);
  const beside = (kind.is === "values" && kind.beside) || [];
  const of = ofRows(q);
  const ranking = q.layout?.ranking;
  const figure = book.figures.find((f) => f.ref === ref)?.name ?? means("figure")[0] ?? ref;
  // Ratios that were made in the question have their names in the reading alone.
  const nameOf = (ref: string) =>
    reading?.parts.find((p) => p.part === "figure" && p.value === ref)?.means.replace(/^and /, "") ?? ref;
  const periodName = (code: string) => book.periods.find((p) => p.code === code)?.name ?? code.replace("..", " to ");
  const sideName = (code: string) => sides.find((s) => s.value === code.split(":")[0])?.label ?? code;
  const light = (e: SyntheticEvent<HTMLElement>) =>
    setLit((e.target as HTMLElement).closest<HTMLElement>("[data-part]")?.dataset.part ?? null);
  return (
    <section
      className="reading"
      aria-label="How the question was read"
      onMouseOver={light}
      onFocus={light}
      onMouseLeave={() => setLit(null)}
      onBlur={() => setLit(null)}
      data-lit={lit ?? undefined}
    >
      <Asked text={asked} reading={reading} lit={lit} />
      {kind.is === "records" && <RecordParts reading={reading} question={q} periods={book.periods} onPut={onPut} />}
      {kind.is !== "records" && (
        <>
          <span className="lead">{kind.is === "why" ? "Why" : kind.is === "entries" ? "Entries of" : "Read as"}</span>
          <Part
            name="figure"
            said={words("figure")}
            text={figure}
            searchable
            choices={book.figures.map((f) => ({ value: f.ref, label: f.name }))}
            onPick={(c) =>
              onPut(laid(inScope(q, { figure: c.value }), { rows: rows.filter((b) => b.by !== "account") }), c.label)
            }
          />
          {beside.map((f) => (
            <Part
              key={f}
              name="figure"
              text={book.figures.find((o) => o.ref === f)?.name ?? nameOf(f)}
              onRemove={() =>
                kind.is === "values" &&
                onPut(ofKind(q, { ...kind, beside: beside.filter((o) => o !== f) }), `without ${nameOf(f)}`)
              }
            />
          ))}
          <Part
            name="scenario"
            said={words("scenario")}
            text={sideName(subjectOf(q))}
            choices={sides.filter((s) => !s.value.startsWith("prior"))}
            onPick={(c) => onPut(inScope(q, { subject: c.value }), `${c.label} as the subject`)}
          />
          {bases.length > 0 && <span className="lead">against</span>}
          {bases.map((b, i) => (
            <Part
              key={b}
              name="base"
              said={words("base")}
              text={sideName(b)}
              choices={sides.filter((s) => s.value !== subjectOf(q))}
              onPick={(c) =>
                onPut(inScope(q, { bases: bases.map((o, j) => (j === i ? c.value : o)) }), `against ${c.label}`)
              }
              onRemove={
                bases.length > 1
                  ? () => onPut(inScope(q, { bases: bases.filter((_, j) => j !== i) }), `without ${sideName(b)}`)
                  : undefined
              }
            />
          ))}
          {periods.map((s, i) => (
            <Part
              key={s}
              name="period"
              said={words("period")}
              text={periodName(s)}
              searchable
              choices={book.periods.map((p) => ({ value: p.code, label: p.name }))}
              onPick={(c) => onPut(inScope(q, { periods: periods.map((o, j) => (j === i ? c.value : o)) }), c.label)}
            />
          ))}
          {filtersOf(q).map((f, i) => (
            <Part
              key={`${f.dimension}${f.exclude}`}
              name="filter"
              said={words("filter")}
              text={(means("filter")[i] ?? f.members.join(", ")).replace(/^for /, "")}
              onRemove={() =>
                onPut(inScope(q, { filters: filtersOf(q).filter((_, j) => j !== i) }), `all ${f.dimension} members`)
              }
            />
          ))}
          {splitBy.length > 0 && <span className="lead">by</span>}
          {splitBy.map((b, i) => (
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
                  laid(q, { ranking: null, rows: b ? rows.map((o, j) => (j === i ? chosen : o)) : [chosen] }),
                  `by ${c.label.toLowerCase()}`,
                );
              }}
            />
          ))}
          {ranking && (
            <Part
              name="ranking"
              said={words("ranking")}
              text={means("ranking")[0] ?? `the first ${ranking.count}`}
              onRemove={() => onPut(laid(q, { ranking: null }), "all rows")}
            />
          )}
          {conditionsOf(q).map((c, i) => (
            <Part
              key={`${c.on}${c.direction}${c.value}`}
              name="condition"
              said={words("condition")}
              text={`only rows ${means("condition")[i] ?? `of at least ${c.value}`}`}
              onRemove={() =>
                onPut(laid(q, { conditions: conditionsOf(q).filter((_, j) => j !== i) }), "without that condition")
              }
            />
          ))}
          {of.shares && (
            <Part
              name="share"
              said={words("share")}
              text={means("share")[0] ?? "share of the total"}
              onRemove={() => onPut(asking(q, { shares: null }), "without shares")}
            />
          )}
          {of.cumulative && (
            <Part
              name="cumulative"
              said={words("cumulative")}
              text="cumulative"
              onRemove={() => onPut(asking(q, { cumulative: null }), "not cumulative")}
            />
          )}
          {(kind.is === "comparison" || kind.is === "why") && kind.growth && (
            <Part
              name="growth"
              said={words("growth")}
              text="as growth"
              onRemove={() => onPut(ofKind(q, { ...kind, growth: null }), "as effect on profit")}
            />
          )}
          {of.statistic && (
            <Part
              name="statistic"
              said={words("statistic")}
              text={means("statistic")[0] ?? of.statistic}
              onRemove={() => onPut(asking(q, { statistic: null }), "without it")}
            />
          )}
          {currency && (
            <Part
              name="currency"
              said={words("currency")}
              text={means("currency")[0] ?? currency}
              onRemove={() => onPut(inScope(q, { currency: null }), `in ${book.currency}`)}
            />
          )}
          {kind.is === "entries" && kind.text && (
            <Part
              name="test"
              said={words("test")}
              text={`text with “${kind.text}”`}
              onRemove={() => onPut(ofKind(q, { ...kind, text: null }), "whatever the text")}
            />
          )}
          {kind.is === "entries" && kind.listing && (
            <Part
              name="listing"
              said={words("listing")}
              text={means("listing")[0] ?? "as asked"}
              onRemove={() => onPut(ofKind(q, { ...kind, listing: null }), "listed as usual")}
            />
          )}
          {q.layout?.display && (
            <Part
              name="display"
              said={words("display")}
              text={means("display")[0] ?? "as asked"}
              onRemove={() => onPut(laid(q, { display: null }), "shown as usual")}
            />
          )}
          {kind.is === "entries" && kind.document && (
            <Part name="document" said={words("document")} text={`document ${kind.document}`} />
          )}
          {kind.is === "projected" && (
            <Part
              name="projection"
              said={words("projection")}
              text={means("projection")[0] ?? kind.by}
              onRemove={() => onPut(asTable(q), "as the months stand")}
            />
          )}
        </>
      )}
      {reading && (reading.assumed.length > 0 || reading.unused.length > 0) && (
        <p className="assumed">
          {reading.unused.length > 0 && <strong>Not used: {reading.unused.join(", ")}. </strong>}
          {reading.assumed.length > 0 && <>Assumed: {reading.assumed.join("; ")}.</>}
        </p>
      )}
    </section>
  );
}

/** The typed words, those that were used marked; a mark and its part light up together. */
function Asked({ text, reading, lit }: { text: string; reading: AnswerSet["reading"]; lit: string | null }) {
  const said = (reading?.parts ?? []).flatMap((p) =>
    p.words.length === 0
      ? []
      : p.words
          .split(" … ")
          .map((w) => ({ part: p.part, at: text.toLowerCase().indexOf(w.toLowerCase()), length: w.length })),
  );
  const marks = said.filter((s) => s.at >= 0).sort((a, b) => a.at - b.at || b.length - a.length);
  if (marks.length === 0) return null;
  const pieces: React.ReactNode[] = [];
  let from = 0;
  for (const m of marks) {
    if (m.at < from) continue;
    pieces.push(text.slice(from, m.at));
    pieces.push(
      <mark key={m.at} data-part={m.part} className={lit === m.part ? "lit" : undefined} title={`read as ${m.part}`}>
        {text.slice(m.at, m.at + m.length)}
      </mark>,
    );
    from = m.at + m.length;
  }
  return (
    <p className="asked">
      “{pieces}
      {text.slice(from)}”
    </p>
  );
}
