import { Button } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { type AnswerSet, api, type Book, type Question } from "../api/client";
import { Notice } from "../Notice";
import { Paper } from "./Paper";
import { QuestionLine } from "./QuestionLine";
import "./ask.css";
import { TrailPanel } from "./TrailPanel";
import { type Step, useTrail } from "./trail";

/** The working paper: the question line, under it the paper, beside it the trail. */
export function AskPage({ book }: { book: Book }) {
  const { steps, go } = useTrail();
  const queries = useQueryClient();
  const line = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState<AnswerSet | null>(null);
  const current = steps.at(-1);
  const key = (q: Question) => ["answer", book.id, book.edition, JSON.stringify(q)];
  const answer = useQuery({
    queryKey: current ? key(current.q) : ["no question"],
    queryFn: () => api.answer(book.id, (current as Step).q),
    enabled: current !== undefined,
  });

  // A new paper is read from its top, wherever the click that asked for it was.
  const asked = JSON.stringify(current?.q);
  useEffect(() => {
    if (asked) window.scrollTo(0, 0);
  }, [asked]);

  /** Takes a new answer in as the next step; one without an answer leaves the paper as it was. */
  function take(set: AnswerSet, label: string, after: Step[]) {
    const question = set.answers[0]?.question;
    if (!question) return setOpen(set);
    setOpen(null);
    queries.setQueryData(key(question), set);
    go([...after, { q: question, label }]);
  }

  const ask = useMutation({
    mutationFn: ({ text }: { text: string }) =>
      api.ask(
        book.id,
        text,
        open?.question ?? current?.q ?? null,
        open?.outcome === "asks-back" ? open.choices : undefined,
      ),
    onSuccess: (set, { text }) => take(set, text, steps),
  });
  const put = useMutation({
    mutationFn: ({ q }: { q: Question; label: string }) => api.answer(book.id, q),
    onSuccess: (set, { label }) => take(set, label, steps),
  });
  const drill = useMutation({
    mutationFn: ({ slice, by }: { slice: string; by: string | null; label: string }) =>
      api.drill(book.id, (current as Step).q, slice, by),
    onSuccess: (set, { label }) => take(set, label, steps),
  });
  const walk = (to: number) => {
    setOpen(null);
    go(steps.slice(0, to));
  };

  useHotkeys([
    ["/", () => line.current?.focus()],
    ["alt+ArrowLeft", () => walk(Math.max(1, steps.length - 1))],
    ["alt+N", () => walk(0)],
  ]);

  const busy = ask.isPending || put.isPending || drill.isPending || answer.isFetching;
  const failed = ask.error ?? put.error ?? drill.error ?? (answer.error as Error | null);
  return (
    <>
      <QuestionLine
        ref={line}
        book={book}
        busy={busy}
        follows={current !== undefined}
        onAsk={(text) => ask.mutate({ text })}
        onAfresh={() => walk(0)}
      />
      {failed && <Notice title="That did not work" error={failed} />}
      {open && (
        <NoAnswer
          book={book}
          set={open}
          onPut={(q, label) => put.mutate({ q, label })}
          onAsk={(text) => ask.mutate({ text })}
        />
      )}
      {!current && !open && <Opening book={book} onAsk={(text) => ask.mutate({ text })} />}
      {current && (
        <div className="desk" aria-busy={busy}>
          {answer.data ? (
            <Paper
              book={book}
              set={answer.data}
              asked={current.label}
              onPut={(q, label) => put.mutate({ q, label })}
              onDrill={(slice, by, label) => drill.mutate({ slice, by, label })}
              onAsk={(text) => ask.mutate({ text })}
            />
          ) : (
            !failed && <Notice title="Computing…" waiting />
          )}
          <TrailPanel steps={steps} onWalk={walk} />
        </div>
      )}
    </>
  );
}

function Opening({ book, onAsk }: { book: Book; onAsk: (text: string) => void }) {
  if (book.suggestions.length === 0)
    return (
      <Notice title="Nothing to ask about yet">
        This book has no actuals. Load the accounts, the entities and a ledger on the page Loads.
      </Notice>
    );
  return (
    <section className="opening" aria-label="Questions to begin with">
      <h1>What moved, and why?</h1>
      <p>Ask in your own words, with the names that your ledger uses. To begin with:</p>
      <ul>
        {book.suggestions.map((s) => (
          <li key={s}>
            <button type="button" onClick={() => onAsk(s)}>
              {s}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface NoAnswerProps {
  book: Book;
  set: AnswerSet;
  onPut: (q: Question, label: string) => void;
  onAsk: (text: string) => void;
}

/** Asking back with what each choice would give, or saying why there is no answer. */
function NoAnswer({ book, set, onPut, onAsk }: NoAnswerProps) {
  return (
    <section className="noanswer" role="status">
      {set.outcome === "asks-back" ? (
        <>
          <h2>Which of these is meant?</h2>
          <p className="quiet">Click one, or type its number or a word that only it holds.</p>
          {(set.reading?.unused.length ?? 0) > 0 && <p>Not used: {set.reading?.unused.join(", ")}</p>}
          <ol>
            {set.choices.map((c) => (
              <li key={c.means}>
                <button type="button" onClick={() => onPut(c.question, c.means)}>
                  {c.means}
                </button>
              </li>
            ))}
          </ol>
        </>
      ) : (
        <>
          <h2>This cannot be answered</h2>
          <p>{set.because}</p>
          {set.reading === null && (
            <p className="quiet">
              If your people use a word for it that the book does not know,{" "}
              <Link to={`/${book.id}/words`}>teach it</Link>.
            </p>
          )}
          {set.nearest.length > 0 && (
            <p className="chips">
              {set.nearest.map((n) => (
                <Button key={n} size="compact-sm" variant="default" onClick={() => onAsk(n)}>
                  {n}
                </Button>
              ))}
            </p>
          )}
        </>
      )}
    </section>
  );
}
