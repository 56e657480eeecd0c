import { Alert, Button, NativeSelect, Progress, TextInput } from "@mantine/core";
import { Dropzone } from "@mantine/dropzone";
import "@mantine/dropzone/styles.css";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import {
  api,
  type Book,
  follow,
  type Job,
  type Load,
  type LoadPreview,
  type LoadRequest,
  Problem,
  type Receipt,
} from "../api/client";
import { exact } from "../format";
import { Notice } from "../Notice";

const kinds = ["ledger", "plan", "statistics", "accounts", "entities", "members", "names"];

const dates = ["yyyy-MM-dd", "dd/MM/yyyy", "MM/dd/yyyy", "dd.MM.yyyy", "yyyyMMdd"];
const signs = ["debit-positive", "credit-positive", "as-shown"];

/** Drop a file, see how it is read, commit, watch, receipt; below, what was loaded before. */
export function LoadPage({ book }: { book: Book }) {
  const queries = useQueryClient();
  const [request, setRequest] = useState<LoadRequest | null>(null);
  const [job, setJob] = useState<Job | null>(null);
  const loads = useQuery({ queryKey: ["loads", book.id, book.edition], queryFn: () => api.loads(book.id) });

  const refresh = () =>
    queries.invalidateQueries({ predicate: (q) => ["book", "books", "loads"].includes(String(q.queryKey[0])) });
  const upload = useMutation({
    mutationFn: (file: File) => api.upload(book.id, file),
    onSuccess: (u) => {
      setJob(null);
      setRequest({ upload: u.id, mode: "add" });
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
        <p>CSV or XLSX, as your ledger exports it. You see how it is read before anything changes.</p>
      </Dropzone>
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
      {job && <JobView job={job} />}
      {undo.error && <Notice title="The load was not taken back" error={undo.error} />}
      <h2>Loaded so far</h2>
      {loads.error && <Notice title="The loads cannot be listed" error={loads.error} retry={() => loads.refetch()} />}
      {loads.data && loads.data.length === 0 && (
        <p>Nothing yet. Begin with the accounts and the entities, then a ledger.</p>
      )}
      {loads.data && loads.data.length > 0 && (
        <LoadList loads={loads.data} onUndo={(l) => undo.mutate(l)} busy={undo.isPending} />
      )}
    </div>
  );
}

interface PreviewProps {
  book: Book;
  request: LoadRequest;
  starting: boolean;
  onChange: (r: LoadRequest) => void;
  onStart: () => void;
  onLeave: () => void;
}

function Preview({ book, request, starting, onChange, onStart, onLeave }: PreviewProps) {
  const preview = useQuery({
    queryKey: ["preview", book.id, book.edition, JSON.stringify(request)],
    queryFn: () => api.preview(book.id, request),
    placeholderData: keepPreviousData,
  });
  const p = preview.data;
  return (
    <section className="paper preview" aria-label="How the file is read">
      <div className="controls">
        <NativeSelect
          label="What it holds"
          size="xs"
          value={request.kind ?? p?.kind ?? ""}
          data={["", ...kinds]}
          onChange={(e) => onChange({ ...request, kind: e.currentTarget.value || null })}
        />
        {(request.kind ?? p?.kind) === "members" && (
          <NativeSelect
            label="Dimension"
            size="xs"
            value={request.dimension ?? ""}
            data={["", ...book.dimensions.filter((d) => d.role !== "account").map((d) => d.code)]}
            onChange={(e) => onChange({ ...request, dimension: e.currentTarget.value || null })}
          />
        )}
        {!["accounts", "entities", "members", "names"].includes(request.kind ?? p?.kind ?? "") && (
          <>
            <TextInput
              label="Scenario"
              size="xs"
              placeholder="actual"
              defaultValue={request.scenario ?? ""}
              list="scenarios"
              onBlur={(e) => onChange({ ...request, scenario: e.currentTarget.value.trim() || null })}
            />
            <NativeSelect
              label="Dates"
              size="xs"
              value={request.dateFormat ?? ""}
              data={[{ value: "", label: p?.dateFormat ? `${p.dateFormat} (recognised)` : "as recognised" }, ...dates]}
              onChange={(e) => onChange({ ...request, dateFormat: e.currentTarget.value || null })}
            />
            <NativeSelect
              label="Signs"
              size="xs"
              value={request.sign ?? ""}
              data={[{ value: "", label: p ? `${p.sign} (recognised)` : "as recognised" }, ...signs]}
              onChange={(e) => onChange({ ...request, sign: e.currentTarget.value || null })}
            />
          </>
        )}
        <datalist id="scenarios">
          {book.scenarios.map((s) => (
            <option key={s.code} value={s.code} />
          ))}
        </datalist>
        <NativeSelect
          label="What is there already"
          size="xs"
          value={request.mode ?? "add"}
          data={[
            { value: "add", label: "keep, add new" },
            { value: "replace", label: "supersede" },
          ]}
          onChange={(e) => onChange({ ...request, mode: e.currentTarget.value })}
        />
        <Button onClick={onStart} disabled={!p?.lands || preview.isPlaceholderData} loading={starting}>
          Load
        </Button>
        <Button variant="default" onClick={onLeave}>
          Leave it
        </Button>
      </div>
      {preview.isPending && <Notice title="Reading the whole file…" waiting />}
      {preview.error && (
        <Alert color="orange" title="It cannot be read like this">
          {preview.error.message} {preview.error instanceof Problem ? preview.error.remedy : ""}
        </Alert>
      )}
      {p && <Understood preview={p} request={request} onChange={onChange} />}
    </section>
  );
}

function Understood({
  preview: p,
  request,
  onChange,
}: {
  preview: LoadPreview;
  request: LoadRequest;
  onChange: (r: LoadRequest) => void;
}) {
  const rename = (heading: string, role: string) =>
    onChange({ ...request, kind: request.kind ?? p.kind, columns: { ...request.columns, [heading]: role } });
  return (
    <>
      <h2>
        {p.fileName}: {p.kind}
        {p.scenario ? ` of ${p.scenario}` : ""}
      </h2>
      <p className="quiet">
        {p.form}
        {p.mapping.name && `; read by the mapping ${p.mapping.name}`}
      </p>
      {p.problem ? (
        <Alert color="orange" title="It would not land">
          {p.problem}
        </Alert>
      ) : (
        <p className="tie ties">It would land as it is; nothing is changed yet.</p>
      )}
      {p.receipt && <Refusals refused={p.receipt.refused} />}
      <section className="scroll" tabIndex={0} aria-label="First rows">
        <table className="grid rows">
          <thead>
            <tr>
              {p.columns.map((c) => (
                <th key={c.heading} scope="col">
                  <NativeSelect
                    aria-label={`${c.heading} is read as`}
                    title={c.evidence}
                    size="xs"
                    value={c.role ?? ""}
                    data={[
                      { value: "", label: "not used" },
                      ...p.roles.map((r) => ({ value: r, label: r.replace("dimension:", "") })),
                    ]}
                    onChange={(e) => rename(c.heading, e.currentTarget.value)}
                  />
                  {c.heading}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {p.firstRows.map((row, i) => (
              <tr key={i}>
                {row.map((f, j) => (
                  <td key={j} className="text">
                    {f}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {p.receipt && <ReceiptView receipt={p.receipt} />}
    </>
  );
}

function JobView({ job }: { job: Job }) {
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
        </Alert>
      )}
      {job.receipt && <ReceiptView receipt={job.receipt} />}
      {job.state === "done" && <p className="tie ties">Ready to ask.</p>}
    </section>
  );
}

function ReceiptView({ receipt: r }: { receipt: Receipt }) {
  const quantities = r.kind === "statistics";
  return (
    <div className="receipt">
      <p>
        {r.rowsRead.toLocaleString("en-GB")} rows read, {r.rowsTaken.toLocaleString("en-GB")} taken,{" "}
        {r.refusedRows.toLocaleString("en-GB")} refused
        {r.entities.length > 0 && `; for ${r.entities.length === 1 ? r.entities[0] : `${r.entities.length} entities`}`}
        {r.cells > 0 && `; ${r.cells.toLocaleString("en-GB")} cells`}.
      </p>
      {r.leftOut.length > 0 && (
        <p>
          Left out:{" "}
          {r.leftOut
            .map((l) => `${l.count.toLocaleString("en-GB")} ${l.what} (${l.places.slice(0, 3).join(", ")})`)
            .join("; ")}
          .
        </p>
      )}
      {r.totals && <p>{r.totals}</p>}
      {[...r.supersedes, ...r.newMembers].map((n) => (
        <p key={n}>{n}</p>
      ))}
      {r.periods.length > 0 && (
        <table className="grid totals">
          <caption>Control totals, to hold against the source</caption>
          <thead>
            <tr>
              <th scope="col">{quantities ? "Statistic" : "Period"}</th>
              {(quantities ? ["Rows", "Sum"] : ["Lines", "Debit", "Credit", "Net (income +)"]).map((h) => (
                <th key={h} scope="col" className="subject">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {r.periods.map((p) => (
              <tr key={p.name}>
                <th scope="row">{p.name}</th>
                <td className="subject">{p.lines.toLocaleString("en-GB")}</td>
                {!quantities && <td className="subject">{exact(p.debit)}</td>}
                {!quantities && <td className="subject">{exact(p.credit)}</td>}
                <td className="subject">{exact(p.net)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** One line for each cause, with the rows that it met. */
function Refusals({ refused }: { refused: Receipt["refused"] }) {
  if (refused.length === 0) return null;
  return (
    <ul className="refusals">
      {refused.slice(0, 20).map((x) => (
        <li key={`${x.places[0]}${x.column}`}>
          {x.places.join(", ")}
          {x.count > x.places.length && ` and ${(x.count - x.places.length).toLocaleString("en-GB")} more`}
          {x.column && `, ${x.column}`}: {x.because} {x.remedy}
        </li>
      ))}
      {refused.length > 20 && <li>… and {refused.length - 20} further causes.</li>}
    </ul>
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
                  `taken back in edition ${l.undoneIn}`
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
