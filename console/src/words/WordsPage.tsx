import { Button, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, type Book, Problem, type RunResult, type TrailStep } from "../api/client";
import { Notice } from "../Notice";
import { Scroll } from "../Scroll";

/** Words that nobody understood, names that people taught, and questions kept to be run again. */
export function WordsPage({ book }: { book: Book }) {
  return (
    <>
      <NotUnderstood book={book} />
      <Taught book={book} />
      <Kept book={book} />
    </>
  );
}

const day = (at: string) => at.slice(0, 10);
const said = (error: unknown) => (error instanceof Problem ? `${error.message} ${error.remedy ?? ""}` : String(error));

function NotUnderstood({ book }: { book: Book }) {
  const unknown = useQuery({ queryKey: ["unknown", book.id], queryFn: () => api.unknownWords(book.id) });
  return (
    <section className="paper" aria-label="Words not understood">
      <h1>Words not understood</h1>
      {unknown.error && <Notice title="They cannot be listed" error={unknown.error} />}
      {unknown.data?.length === 0 && <p className="quiet">Every word of every question was understood.</p>}
      {(unknown.data?.length ?? 0) > 0 && (
        <Scroll label="Most frequent first">
          <table className="grid rows">
            <thead>
              <tr>
                <th scope="col">Word</th>
                <th scope="col" className="subject">
                  Times
                </th>
                <th scope="col">In the question</th>
                <th scope="col">Teach what it means</th>
              </tr>
            </thead>
            <tbody>
              {unknown.data?.map((w) => (
                <tr key={w.word}>
                  <td className="text">{w.word}</td>
                  <td className="subject">{w.times}</td>
                  <td className="text">{w.example}</td>
                  <td className="text">
                    <Teach book={book} word={w.word} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </section>
  );
}

/** A name or code of the book, or one figure divided by another. */
export function Teach({ book, word, onTaught }: { book: Book; word?: string; onTaught?: () => void }) {
  const queries = useQueryClient();
  const [own, setOwn] = useState("");
  const [means, setMeans] = useState("");
  const teach = useMutation({
    mutationFn: () => api.teach(book.id, word ?? own, means),
    onSuccess: async () => {
      setOwn("");
      setMeans("");
      await queries.invalidateQueries();
      onTaught?.();
    },
  });
  const of = word ?? "the new word";
  return (
    <form
      className="controls"
      onSubmit={(e) => {
        e.preventDefault();
        teach.mutate();
      }}
    >
      {word === undefined && (
        <TextInput label="Word" size="xs" value={own} onChange={(e) => setOwn(e.currentTarget.value)} />
      )}
      <TextInput
        label={word === undefined ? "Means" : undefined}
        aria-label={`What ${of} means`}
        size="xs"
        w={240}
        placeholder="a name, a code, or X divided by Y"
        value={means}
        onChange={(e) => setMeans(e.currentTarget.value)}
        error={teach.error ? said(teach.error) : undefined}
      />
      <Button
        type="submit"
        size="xs"
        variant="default"
        loading={teach.isPending}
        disabled={means.trim() === "" || (word === undefined && own.trim() === "")}
      >
        Teach
      </Button>
    </form>
  );
}

function Taught({ book }: { book: Book }) {
  const queries = useQueryClient();
  const words = useQuery({ queryKey: ["words", book.id, book.edition], queryFn: () => api.words(book) });
  const forget = useMutation({
    mutationFn: (id: number) => api.forget(book.id, id),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <section className="paper" aria-label="Taught names">
      <h2>Taught names</h2>
      {words.data?.length === 0 && (
        <p className="quiet">None yet. Teach the words that your people use for accounts, entities and ratios.</p>
      )}
      {(words.data?.length ?? 0) > 0 && (
        <table className="grid rows">
          <thead>
            <tr>
              <th scope="col">Word</th>
              <th scope="col">Means</th>
              <th scope="col">Taught by</th>
              <th scope="col">On</th>
              <th scope="col">Undo</th>
            </tr>
          </thead>
          <tbody>
            {words.data?.map((w) => (
              <tr key={w.id}>
                <td className="text">{w.word}</td>
                <td className="text">{w.means ?? `${w.target}, no longer in the book`}</td>
                <td className="text">{w.by}</td>
                <td className="text">{day(w.at)}</td>
                <td className="text">
                  <Button
                    size="compact-xs"
                    variant="default"
                    onClick={() => forget.mutate(w.id)}
                    aria-label={`Take back ${w.word}`}
                  >
                    Take back
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Teach book={book} />
    </section>
  );
}

function Kept({ book }: { book: Book }) {
  const queries = useQueryClient();
  const kept = useQuery({ queryKey: ["questions", book.id], queryFn: () => api.questions(book.id) });
  const [name, setName] = useState("");
  const [text, setText] = useState("");
  const [given, setGiven] = useState<Record<string, string>>({});
  const refresh = () => queries.invalidateQueries({ queryKey: ["questions", book.id] });
  const keep = useMutation({
    mutationFn: () => api.keepQuestion(book.id, name.trim(), text),
    onSuccess: async () => {
      setName("");
      setText("");
      await refresh();
    },
  });
  const remove = useMutation({ mutationFn: (n: string) => api.removeQuestion(book.id, n), onSuccess: refresh });
  const run = useMutation({ mutationFn: (names: string[]) => api.runQuestions(book.id, names, given) });
  const needs = [...new Set(kept.data?.flatMap((q) => q.parameters ?? []) ?? [])];
  return (
    <section className="paper" aria-label="Kept questions">
      <h2>Kept questions</h2>
      {kept.data?.length === 0 && (
        <p className="quiet">None yet. Words in braces, such as {"{period}"}, are asked for when a question is run.</p>
      )}
      {(kept.data?.length ?? 0) > 0 && (
        <>
          <table className="grid rows">
            <thead>
              <tr>
                <th scope="col">Name</th>
                <th scope="col">Question</th>
                <th scope="col">Run</th>
              </tr>
            </thead>
            <tbody>
              {kept.data?.map((q) => (
                <tr key={q.name}>
                  <td className="text">{q.name}</td>
                  <td className="text">{q.text}</td>
                  <td className="text">
                    <Button
                      size="compact-xs"
                      variant="default"
                      aria-label={`Run ${q.name}`}
                      onClick={() => run.mutate([q.name])}
                    >
                      Run
                    </Button>{" "}
                    <Button
                      size="compact-xs"
                      variant="subtle"
                      aria-label={`Remove ${q.name}`}
                      onClick={() => remove.mutate(q.name)}
                    >
                      Remove
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="controls">
            {needs.map((n) => (
              <TextInput
                key={n}
                label={n}
                size="xs"
                value={given[n] ?? ""}
                onChange={(e) => setGiven({ ...given, [n]: e.currentTarget.value })}
              />
            ))}
            <Button size="xs" variant="default" loading={run.isPending} onClick={() => run.mutate([])}>
              Run all
            </Button>
          </div>
        </>
      )}
      {run.error && <Notice title="They cannot be run" error={run.error} />}
      {run.data && <Results book={book} results={run.data} />}
      <form
        className="controls"
        onSubmit={(e) => {
          e.preventDefault();
          keep.mutate();
        }}
      >
        <TextInput
          label="Name"
          size="xs"
          placeholder="fuel-month"
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          error={keep.error ? said(keep.error) : undefined}
        />
        <TextInput
          label="Question"
          size="xs"
          w={420}
          placeholder="fuel versus budget by route in {period}"
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
        />
        <Button type="submit" size="xs" variant="default" disabled={name.trim() === "" || text.trim() === ""}>
          Keep
        </Button>
      </form>
    </section>
  );
}

function Results({ book, results }: { book: Book; results: RunResult[] }) {
  const navigate = useNavigate();
  const open = useMutation({
    mutationFn: (steps: TrailStep[]) => api.keepTrail(book.id, steps),
    onSuccess: (trail) => navigate(`/${book.id}/ask?trail=${trail.id}`),
  });
  return (
    <ol className="results" aria-label="Answers">
      {open.error && <Notice title="The paper could not be opened" error={open.error} />}
      {results.map((r) => {
        const answer = r.result.answers[0];
        return (
          <li key={r.name}>
            <strong>{r.text}</strong>
            <p>
              {answer?.headline ??
                (r.result.outcome === "asks-back"
                  ? `It may mean ${r.result.choices.map((c) => c.means).join(" or ")}`
                  : r.result.because)}{" "}
              {answer && (
                <Button
                  size="compact-sm"
                  variant="subtle"
                  onClick={() => open.mutate([{ question: answer.question, label: r.text }])}
                >
                  Open the paper
                </Button>
              )}
            </p>
          </li>
        );
      })}
    </ol>
  );
}
