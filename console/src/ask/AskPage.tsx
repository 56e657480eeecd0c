import { Button, Menu } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useMutation, useQueries, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { type AnswerSet, api, type Book, type Question, type TrailStep } from "../api/client";
import { Notice } from "../Notice";
import { Paper } from "./Paper";
import { QuestionLine } from "./QuestionLine";
import "./ask.css";
import { Teach } from "../words/WordsPage";
import { TrailPanel } from "./TrailPanel";
import { together, useTrail } from "./trail";

/** The working paper: the question line, under it the paper, beside it the trail. */
export function AskPage({ book }: { book: Book }) {
  const trail = useTrail(book);
  const { steps, go } = trail;
  const queries = useQueryClient();
  const line = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState<AnswerSet[]>([]);
  const current = steps.at(-1);
  const first = together(steps);
  const key = (q: Question) => ["answer", book.id, book.edition, JSON.stringify(q)];
  const papers = useQueries({
    queries: steps
      .slice(first)
      .map((s) => ({ queryKey: key(s.question), queryFn: () => api.answer(book, s.question) })),
  });

  // A new paper is read from its top, wherever the click that asked for it was.
  const asked = JSON.stringify(current?.question);
  useEffect(() => {
    if (asked) window.scrollTo(0, 0);
  }, [asked]);

  const walk = (to: number) => {
    setOpen([]);
    go(steps.slice(0, Math.max(0, to)));
  };

  /** Takes the answers in as the next steps; a demand without an answer is told above and changes no paper. */
  function take(set: AnswerSet, label: string, after: TrailStep[]) {
    const sets = [set, ...(set.further ?? [])];
    // Said in words what the keys do as well.
    const walked = sets.find((s) => s.outcome === "goes-back" || s.outcome === "starts-afresh");
    if (walked) return walk(walked.outcome === "goes-back" ? steps.length - 1 : 0);
    // What was typed stays in sight until it is answered.
    setOpen(sets.filter((s) => s.answers.length === 0).map((s) => ({ ...s, asked: s.asked ?? label })));
    const taken = sets.flatMap((s) => {
      const question = s.answers[0]?.question;
      if (!question) return [];
      queries.setQueryData(key(question), s);
      return [{ question, label: s.asked ?? label }];
    });
    if (taken.length > 0) go([...after, ...taken.map((s, i) => (i > 0 ? { ...s, with: true } : s))]);
  }

  const waiting = open.at(-1);
  const ask = useMutation({
    mutationFn: ({ text, afresh }: { text: string; afresh?: boolean }) =>
      api.ask(
        book,
        text,
        afresh ? {} : { trail: trail.id, previous: waiting?.question ?? (trail.id ? undefined : current?.question) },
        !afresh && waiting?.outcome === "asks-back" ? waiting.choices : undefined,
      ),
    onSuccess: (set, { text }) => take(set, text, steps),
  });
  const put = useMutation({
    mutationFn: ({ q }: { q: Question; label: string; after: TrailStep[] }) => api.answer(book, q),
    onSuccess: (set, { label, after }) => take(set, label, after),
  });
  const drill = useMutation({
    mutationFn: ({ after, slice, by }: { after: TrailStep[]; slice: string; by: string | null; label: string }) =>
      api.drill(book, (after.at(-1) as TrailStep).question, slice, by),
    onSuccess: (set, { label, after }) => take(set, label, after),
  });

  useHotkeys([
    ["/", () => line.current?.focus()],
    ["alt+ArrowLeft", () => walk(Math.max(1, steps.length - 1))],
    ["alt+N", () => walk(0)],
  ]);

  const busy = ask.isPending || put.isPending || drill.isPending || trail.busy || papers.some((p) => p.isFetching);
  const failed = ask.error ?? put.error ?? drill.error ?? trail.error ?? papers.find((p) => p.error)?.error ?? null;
  return (
    <>
      <QuestionLine
        ref={line}
        book={book}
        busy={busy}
        follows={current !== undefined}
        unanswered={waiting?.outcome === "cannot-answer" ? waiting : undefined}
        onAsk={(text) => ask.mutate({ text })}
        onAfresh={() => walk(0)}
      />
      {current && <Begin book={book} onAsk={(text) => ask.mutate({ text, afresh: true })} />}
      {failed && <Notice title="That did not work" error={failed} />}
      {open.map((set) => (
        <NoAnswer
          key={set.asked ?? ""}
          book={book}
          set={set}
          beside={current !== undefined}
          onPut={(q, label) => put.mutate({ q, label, after: steps })}
          onAsk={(text) => ask.mutate({ text, afresh: set.outcome === "help" })}
        />
      ))}
      {!current && trail.busy && <Notice title="Computing…" waiting />}
      {!current && !trail.busy && open.length === 0 && <Opening book={book} onAsk={(text) => ask.mutate({ text })} />}
      {current && (
        <div className="desk" aria-busy={busy}>
          <div className="papers">
            {papers.map((paper, i) => {
              const after = steps.slice(0, first + i + 1);
              return paper.data ? (
                <Paper
                  // biome-ignore lint/suspicious/noArrayIndexKey: a step of a trail is its place in it
                  key={first + i}
                  book={book}
                  set={paper.data}
                  asked={after.at(-1)?.label ?? ""}
                  onPut={(q, label) => put.mutate({ q, label, after })}
                  onDrill={(slice, by, label) => drill.mutate({ slice, by, label, after })}
                  onAsk={(text) => ask.mutate({ text })}
                />
              ) : (
                // biome-ignore lint/suspicious/noArrayIndexKey: a step of a trail is its place in it
                !failed && <Notice key={first + i} title="Computing…" waiting />
              );
            })}
          </div>
          <TrailPanel steps={steps} onWalk={walk} />
        </div>
      )}
    </>
  );
}

/** The questions to begin with, reachable from every paper. */
function Begin({ book, onAsk }: { book: Book; onAsk: (text: string) => void }) {
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <Button size="compact-sm" variant="subtle" className="begin">
          Questions to begin with
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {[...book.suggestions, "what can I ask?"].map((s) => (
          <Menu.Item key={s} onClick={() => onAsk(s)}>
            {s}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
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

/** A word that nobody knows, to be given a meaning on the spot. */
function Unknown({ book, word, onAgain }: { book: Book; word: string; onAgain: () => void }) {
  const [taught, setTaught] = useState(false);
  if (taught)
    return (
      <p>
        “{word}” is taught.{" "}
        <Button size="compact-sm" onClick={onAgain}>
          Ask again
        </Button>
      </p>
    );
  return (
    <>
      <p className="quiet">If your people say “{word}”, teach what it means:</p>
      <Teach book={book} word={word} onTaught={() => setTaught(true)} />
    </>
  );
}

interface NoAnswerProps {
  book: Book;
  set: AnswerSet;
  /** Whether a paper is on the page as well, whose headline heads it then. */
  beside: boolean;
  onPut: (q: Question, label: string) => void;
  onAsk: (text: string) => void;
}

/** Asking back with what each choice would give, or saying why there is no answer. */
function NoAnswer({ book, set, beside, onPut, onAsk }: NoAnswerProps) {
  const Title = beside ? "h2" : "h1";
  return (
    <section className="noanswer" role="status">
      {set.asked && <p className="quiet">“{set.asked}”</p>}
      {set.outcome === "help" ? (
        <>
          <Title>What can be asked</Title>
          <p>{set.because}</p>
          <ol>
            {set.nearest.map((n) => (
              <li key={n}>
                <button type="button" onClick={() => onAsk(n)}>
                  {n}
                </button>
              </li>
            ))}
          </ol>
        </>
      ) : set.outcome === "asks-back" ? (
        <>
          <Title>Which of these is meant?</Title>
          {set.because && <p>{set.because}</p>}
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
          <Title>This cannot be answered</Title>
          <p>{set.because}</p>
          {(set.reading?.unused.length ?? 0) > 0 && <p>Not used: {set.reading?.unused.join(", ")}</p>}
          {set.nearest.length > 0 && (
            <p className="chips">
              {set.nearest.map((n) => (
                <Button key={n} size="compact-sm" variant="default" onClick={() => onAsk(n)}>
                  {n}
                </Button>
              ))}
            </p>
          )}
          {(set.unknown ?? []).map((w) => (
            <Unknown key={w} book={book} word={w} onAgain={() => onAsk(set.asked ?? "")} />
          ))}
        </>
      )}
    </section>
  );
}
