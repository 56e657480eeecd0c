import { Button, Tabs } from "@mantine/core";
import { lazy, Suspense, useState } from "react";
import { type Answer, type AnswerSet, api, type Book, type Chart, type Order, type Question } from "../api/client";
import { Notice } from "../Notice";
import { Commentary } from "./Commentary";
import { Entries } from "./Entries";
import { conditionsOf, listingOf, sliceOf } from "./question";
import { ReadingBar } from "./ReadingBar";
import { Records } from "./Records";
import { VarianceTable } from "./VarianceTable";

// Charts are the heaviest part of the console and are fetched when the first one is drawn.
const ChartView = lazy(() => import("./ChartView"));

export interface PaperActions {
  onPut: (q: Question, label: string) => void;
  onDrill: (slice: string, by: string | null, label: string) => void;
  onAsk: (text: string) => void;
}

const chartNames: Record<string, string> = { bridge: "Bridge", months: "By month", ranked: "Largest" };

/** One sheet: reading, headline, commentary, table, charts, entries, tie-out, next questions. */
export function Paper({
  book,
  set,
  asked,
  onPut,
  onDrill,
  onAsk,
}: { book: Book; set: AnswerSet; asked: string } & PaperActions) {
  const [lit, setLit] = useState<{ slice: string; column: string | null } | null>(null);
  const [entriesOf, setEntriesOf] = useState<{
    slice: string;
    scenario?: string;
    title: string;
    figure?: string;
  } | null>(null);
  const answer = set.answers[0];
  if (!answer)
    return (
      <article className="paper">
        <Notice title="This cannot be answered">{set.because}</Notice>
      </article>
    );
  const { grid, charts, entries } = answer;
  const view = answer.question.layout?.display?.view;
  const pictureFirst = view === "line" || view === "bars" || view === "chart";
  const pictures = charts.length > 0 && (
    <ChartTabs key={`c${answer.id}`} charts={charts} view={view} onDrill={onDrill} />
  );
  return (
    <article className="paper" aria-label={answer.headline}>
      <ReadingBar book={book} reading={set.reading} question={answer.question} asked={asked} onPut={onPut} />
      <Commentary
        sentences={answer.commentary}
        onLight={setLit}
        onOpen={(slice) => onDrill(slice, null, "from the commentary")}
      />
      {pictureFirst && pictures}
      {grid && grid.rows.length > 0 && (
        <VarianceTable
          key={answer.id}
          book={book}
          grid={grid}
          question={answer.question}
          lit={lit}
          onDrill={onDrill}
          onEntries={(slice, scenario, title, figure) => setEntriesOf({ slice, scenario, title, figure })}
        />
      )}
      {answer.records && <Records table={answer.records} />}
      {entries && (
        <Entries
          book={book}
          slice={sliceOf(answer.question)}
          title={answer.headline}
          picked={picks(answer.question) ? entries : undefined}
          columns={listingOf(answer.question)?.columns ?? undefined}
          order={orderOf(answer.question)}
        />
      )}
      {entriesOf && (
        <Entries
          key={`${entriesOf.slice}${entriesOf.scenario}${entriesOf.figure}`}
          book={book}
          slice={entriesOf.slice}
          scenario={entriesOf.scenario}
          figure={entriesOf.figure}
          title={entriesOf.title}
          onClose={() => setEntriesOf(null)}
        />
      )}
      {!pictureFirst && pictures}
      {(view === "csv" || view === "json") && grid && <Download answer={answer} book={book} as={view} />}
      <footer className="proof">
        {!answer.records && <p className={`tie ${answer.tieOut.state}`}>{answer.tieOut.text}</p>}
        {answer.calculation && (
          <details className="how">
            <summary>How it was worked out</summary>
            <ul>
              {answer.calculation.words.map((w) => (
                <li key={w}>{w}</li>
              ))}
            </ul>
            {answer.calculation.loads.length > 0 && (
              <p>
                Lines from{" "}
                {answer.calculation.loads
                  .map((l) => `load ${l.load} (${l.file}, ${l.lines.toLocaleString("en-GB")})`)
                  .join(", ")}
                .
              </p>
            )}
            <ul className="addresses">
              {answer.calculation.slices.map((s) => (
                <li key={s.column}>
                  {s.column}: <code>{s.slice}</code>
                </li>
              ))}
            </ul>
          </details>
        )}
        {answer.notes.map((n) => (
          <p key={n}>{n}</p>
        ))}
        <p className="stamp">
          {set.provenance === "real" ? "" : `${set.provenance} data · `}edition {set.edition} · answer {answer.id}
        </p>
      </footer>
      <nav className="chips next" aria-label="Next questions">
        {answer.next.map((n) => (
          <Button key={n} size="compact-sm" variant="default" onClick={() => onAsk(n)}>
            {n}
          </Button>
        ))}
      </nav>
    </article>
  );
}

/** The table as a file, in the form that was asked for. */
function Download({ answer, book, as }: { answer: Answer; book: Book; as: "csv" | "json" }) {
  const name = `${book.id}-${answer.id}.${as}`;
  async function save() {
    const text = as === "csv" ? await api.answerCsv(book, answer.question) : JSON.stringify(answer, null, 2);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: as === "csv" ? "text/csv" : "application/json" }));
    link.download = name;
    link.click();
    URL.revokeObjectURL(link.href);
  }
  return (
    <p>
      <Button size="compact-sm" onClick={save}>
        Save {name}
      </Button>
    </p>
  );
}

interface ChartTabsProps {
  charts: Chart[];
  /** What was asked for: line, bars or chart; anything else leaves the first one open. */
  view?: string | null;
  onDrill: PaperActions["onDrill"];
}

function ChartTabs({ charts, view, onDrill }: ChartTabsProps) {
  const wanted = view === "line" ? "months" : view === "bars" ? "ranked" : "";
  const opened = charts.find((c) => c.kind === wanted) ?? charts[0];
  return (
    <Tabs defaultValue={opened?.kind} className="charts" data-view={view} keepMounted={false}>
      <Tabs.List aria-label="Charts">
        {charts.map((c) => (
          <Tabs.Tab key={c.kind} value={c.kind}>
            {chartNames[c.kind] ?? c.kind}
          </Tabs.Tab>
        ))}
      </Tabs.List>
      {charts.map((c) => (
        <Tabs.Panel key={c.kind} value={c.kind}>
          <Suspense fallback={<div className="chart" />}>
            <ChartView chart={c} lines={view === "line"} onOpen={(slice, label) => onDrill(slice, null, label)} />
          </Suspense>
        </Tabs.Panel>
      ))}
    </Tabs>
  );
}

/** The order in which the lines were asked for; largest first otherwise. */
function orderOf(q: Question): Order | undefined {
  const listing = listingOf(q);
  if (!listing?.orderBy) return undefined;
  if (listing.orderBy === "date") return listing.descending ? "newest" : "oldest";
  return listing.descending ? "size" : "smallest";
}

/** Whether the answer shows some of the slice's lines only. */
function picks(q: Question): boolean {
  const said = q.kind.is === "entries" && (q.kind.document != null || q.kind.text != null);
  return said || q.layout?.ranking != null || conditionsOf(q).length > 0;
}
