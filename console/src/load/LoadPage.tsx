import { Alert, Button, Progress } from "@mantine/core";
import { Dropzone } from "@mantine/dropzone";
import "@mantine/dropzone/styles.css";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Book, follow, type Job, type Load, type LoadRequest } from "../api/client";
import { Notice } from "../Notice";
import "./load.css";
import { Changed } from "./Changed";
import { Preview } from "./Preview";
import { ReceiptView, Refusals, RefusedRows, Warnings } from "./Receipt";
import { Sources } from "./Sources";

/** Drop a file, see how it is read, commit, watch, receipt; below, what was loaded before. */
export function LoadPage({ book }: { book: Book }) {
  const queries = useQueryClient();
  const [request, setRequest] = useState<LoadRequest | null>(null);
  const [job, setJob] = useState<Job | null>(null);
  // The list stays while a new edition is fetched, so that a question asked in it is not lost.
  const loads = useQuery({
    queryKey: ["loads", book.id, book.edition],
    queryFn: () => api.loads(book.id),
    placeholderData: keepPreviousData,
  });

  const refresh = () =>
    queries.invalidateQueries({ predicate: (q) => ["book", "books", "loads"].includes(String(q.queryKey[0])) });
  const upload = useMutation({
    mutationFn: (file: File) => api.upload(book.id, file),
    onSuccess: (u) => {
      setJob(null);
      setRequest({ upload: u.id, mode: "add", agreed: false });
    },
  });
  const start = useMutation({
    mutationFn: (r: LoadRequest) => api.load(book.id, r, crypto.randomUUID()),
    onSuccess: (j) => {
      setJob(j);
      setRequest(null);
      follow(book.id, j.id, (state) => {
        setJob(state);
        if (state.state === "done") refresh();
      });
    },
  });
  const undo = useMutation({ mutationFn: (load: number) => api.undo(book.id, load), onSuccess: refresh });

  return (
    <div className="loads">
      <h1>Loads</h1>
      <Dropzone
        onDrop={(files) => files[0] && upload.mutate(files[0])}
        multiple={false}
        loading={upload.isPending}
        className="drop"
        inputProps={{ "aria-label": "File" }}
        aria-label="Drop a file here or press Enter to choose one"
      >
        <p>
          <strong>Drop a file here</strong>, or click to choose one.
        </p>
        <p>CSV, XLSX, JSON or Parquet, as your ledger exports it. You see how it is read before anything changes.</p>
      </Dropzone>
      <Sources
        book={book}
        onFetched={(id) => {
          setJob(null);
          setRequest({ upload: id, mode: "add", agreed: false });
        }}
      />
      {upload.error && <Notice title="The file did not arrive" error={upload.error} />}
      {request && (
        <Preview
          book={book}
          request={request}
          onChange={setRequest}
          onStart={() => start.mutate(request)}
          onLeave={() => setRequest(null)}
          starting={start.isPending}
        />
      )}
      {start.error && <Notice title="The load did not start" error={start.error} />}
      {job && <JobView book={book.id} job={job} />}
      {undo.error && <Notice title="The load was not taken back" error={undo.error} />}
      <h2>Loaded so far</h2>
      {loads.error && <Notice title="The loads cannot be listed" error={loads.error} retry={() => loads.refetch()} />}
      {loads.data && loads.data.length === 0 && (
        <p>Nothing yet. Begin with the accounts and the entities, then a ledger.</p>
      )}
      {loads.data && loads.data.length > 0 && (
        <LoadList loads={loads.data} onUndo={(l) => undo.mutate(l)} busy={undo.isPending} />
      )}
      <Changed book={book} />
      <Mappings book={book.id} />
    </div>
  );
}

/** The saved ways to read files; a file with the headings of one is read by it. */
function Mappings({ book }: { book: string }) {
  const queries = useQueryClient();
  const mappings = useQuery({ queryKey: ["mappings", book], queryFn: () => api.mappings(book) });
  const remove = useMutation({
    mutationFn: (name: string) => api.removeMapping(book, name),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["mappings", book] }),
  });
  if (!mappings.data || mappings.data.length === 0) return null;
  return (
    <>
      <h2>Kept mappings</h2>
      {remove.error && <Notice title="The mapping was not removed" error={remove.error} />}
      <section className="paper scrolling">
        <table className="grid">
          <thead>
            <tr>
              <th scope="col">Mapping</th>
              <th scope="col">Kind</th>
              <th scope="col">Headings</th>
              <th scope="col">Remove</th>
            </tr>
          </thead>
          <tbody>
            {mappings.data.map((m) => (
              <tr key={m.name}>
                <th scope="row">{m.name}</th>
                <td className="text">{m.kind}</td>
                <td className="text wrap">
                  {m.columns
                    .filter((c) => c.role)
                    .map((c) => c.heading)
                    .join(", ")}
                </td>
                <td className="text">
                  <Button
                    size="compact-xs"
                    variant="default"
                    aria-label={`Remove the mapping ${m.name}`}
                    onClick={() => remove.mutate(m.name)}
                  >
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}

function JobView({ book, job }: { book: string; job: Job }) {
  return (
    <section className="paper job" aria-label="Load under way" aria-live="polite">
      <h2>
        {job.file}: {job.state}
      </h2>
      {!["done", "failed", "cancelled"].includes(job.state) && (
        <Progress value={job.progress * 100} animated aria-label="Progress" />
      )}
      {job.problem && (
        <Alert color="orange" title={job.problem.title}>
          {job.problem.detail} {job.problem.remedy}
          <Refusals refused={job.problem.refused ?? []} />
          <Warnings warnings={job.problem.warnings ?? []} />
          {(job.problem.refused ?? []).length > 0 && <RefusedRows href={`/api/books/${book}/jobs/${job.id}/refused`} />}
        </Alert>
      )}
      {job.receipt && <ReceiptView receipt={job.receipt} />}
      {job.state === "done" && <p className="tie ties">Ready to ask.</p>}
    </section>
  );
}

function LoadList({ loads, onUndo, busy }: { loads: Load[]; onUndo: (load: number) => void; busy: boolean }) {
  const [asking, setAsking] = useState<number | null>(null);
  return (
    <section className="paper scrolling">
      <table className="grid">
        <thead>
          <tr>
            <th scope="col">File</th>
            <th scope="col">Load</th>
            <th scope="col">Kind</th>
            <th scope="col">Scenario</th>
            <th scope="col" className="subject">
              Rows
            </th>
            <th scope="col">State</th>
          </tr>
        </thead>
        <tbody>
          {loads.map((l) => (
            <tr key={l.load} className={l.undoneIn ? "undone" : ""}>
              <th scope="row">{l.file}</th>
              <td className="text">{l.load}</td>
              <td className="text">{l.kind}</td>
              <td className="text">{l.scenario ?? "—"}</td>
              <td className="subject">{l.rows.toLocaleString("en-GB")}</td>
              <td className="text">
                {l.undoneIn ? (
                  `taken back in edition ${l.undoneIn}${l.purgedIn ? ", purged" : ""}`
                ) : asking === l.load ? (
                  <>
                    <Button
                      size="compact-xs"
                      color="orange"
                      loading={busy}
                      onClick={() => {
                        setAsking(null);
                        onUndo(l.load);
                      }}
                    >
                      Yes, take load {l.load} back
                    </Button>{" "}
                    <Button size="compact-xs" variant="default" onClick={() => setAsking(null)}>
                      Keep it
                    </Button>
                  </>
                ) : (
                  <Button
                    size="compact-xs"
                    variant="default"
                    onClick={() => setAsking(l.load)}
                    aria-label={`Take back load ${l.load}`}
                  >
                    Take back
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
