import { Alert, Button, Checkbox, NativeSelect, TextInput } from "@mantine/core";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Book, type LoadPreview, type LoadRequest, Problem } from "../api/client";
import { Notice } from "../Notice";
import { Scroll } from "../Scroll";
import { ReceiptView, Refusals, RefusedRows } from "./Receipt";
import { Unknown } from "./Unknown";

const kinds = [
  "ledger",
  "plan",
  "statistics",
  "opening",
  "accounts",
  "entities",
  "members",
  "names",
  "rates",
  "records",
] as const;
const withoutFigures = ["accounts", "entities", "members", "names", "rates", "records"];
const dates = ["yyyy-MM-dd", "dd/MM/yyyy", "MM/dd/yyyy", "dd.MM.yyyy", "yyyyMMdd"];
const encodings = ["utf-8", "windows-1252", "windows-1250", "iso-8859-15", "utf-16"];
const separators = [
  { value: ",", label: "comma" },
  { value: ";", label: "semicolon" },
  { value: "tab", label: "tab" },
  { value: "|", label: "bar" },
  { value: "^", label: "caret" },
  { value: "~", label: "tilde" },
];
const signs = ["debit-positive", "credit-positive", "as-shown"] as const;
const decimals = ["point", "comma"] as const;
const modes = ["add", "replace"] as const;

/** The one of the values that was chosen; null for the first place, which leaves it to Bearing. */
const oneOf = <T extends string>(values: readonly T[], text: string): T | null =>
  values.find((v) => v === text) ?? null;

interface PreviewProps {
  book: Book;
  request: LoadRequest;
  starting: boolean;
  onChange: (r: LoadRequest) => void;
  onStart: () => void;
  onLeave: () => void;
}

/** How a file would be read and what would come of it, each part open to correction before anything changes. */
export function Preview({ book, request, starting, onChange, onStart, onLeave }: PreviewProps) {
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
          onChange={(e) => onChange({ ...request, kind: oneOf(kinds, e.currentTarget.value) })}
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
        {(request.kind ?? p?.kind) === "records" && (
          <TextInput
            label="Table"
            size="xs"
            placeholder={p?.mapping.table ?? "payables"}
            defaultValue={request.table ?? ""}
            onBlur={(e) => onChange({ ...request, table: e.currentTarget.value.trim() || null })}
          />
        )}
        {!withoutFigures.includes(request.kind ?? p?.kind ?? "") && (
          <>
            <TextInput
              label="Scenario"
              size="xs"
              placeholder={p?.mapping.scenario?.code ?? "actual"}
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
              onChange={(e) => onChange({ ...request, sign: oneOf(signs, e.currentTarget.value) })}
            />
            <NativeSelect
              label="Decimals"
              size="xs"
              value={request.decimals ?? ""}
              data={[
                { value: "", label: p?.mapping.decimals ? `${p.mapping.decimals} (recognised)` : "as recognised" },
                ...decimals,
              ]}
              onChange={(e) => onChange({ ...request, decimals: oneOf(decimals, e.currentTarget.value) })}
            />
            <NativeSelect
              label="Amounts in"
              size="xs"
              value={request.scale?.toString() ?? ""}
              data={[
                { value: "", label: p?.mapping.scale ? `× ${p.mapping.scale} (mapping)` : "units" },
                { value: "1000", label: "thousands" },
                { value: "1000000", label: "millions" },
              ]}
              onChange={(e) => onChange({ ...request, scale: Number(e.currentTarget.value) || null })}
            />
          </>
        )}
        {(p?.form.startsWith("text") || request.separator || request.encoding) && (
          <>
            <NativeSelect
              label="Separator"
              size="xs"
              value={request.separator ?? ""}
              data={[{ value: "", label: "as recognised" }, ...separators]}
              onChange={(e) => onChange({ ...request, separator: e.currentTarget.value || null })}
            />
            <NativeSelect
              label="Encoding"
              size="xs"
              value={request.encoding ?? ""}
              data={[{ value: "", label: "as recognised" }, ...encodings]}
              onChange={(e) => onChange({ ...request, encoding: e.currentTarget.value || null })}
            />
          </>
        )}
        <TextInput
          label="Headings on line"
          size="xs"
          w={110}
          inputMode="numeric"
          placeholder={p ? `${p.headingLine} (found)` : ""}
          defaultValue={request.headingLine ?? ""}
          onBlur={(e) => onChange({ ...request, headingLine: Number.parseInt(e.currentTarget.value, 10) || null })}
        />
        {(p?.sheets.length ?? 0) > 1 && (
          <NativeSelect
            label="Sheet"
            size="xs"
            value={request.sheets?.[0] ?? ""}
            data={[{ value: "", label: "all with these headings" }, ...(p?.sheets ?? [])]}
            onChange={(e) => onChange({ ...request, sheets: e.currentTarget.value ? [e.currentTarget.value] : null })}
          />
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
          onChange={(e) => onChange({ ...request, mode: oneOf(modes, e.currentTarget.value) ?? "add" })}
        />
        {(p?.receipt?.warnings.length ?? 0) > 0 && p?.lands && (
          <Checkbox
            label="I have seen the warnings"
            checked={request.agreed}
            onChange={(e) => onChange({ ...request, agreed: e.currentTarget.checked })}
          />
        )}
        <Button
          onClick={onStart}
          disabled={
            !p?.lands || preview.isPlaceholderData || ((p.receipt?.warnings.length ?? 0) > 0 && !request.agreed)
          }
          loading={starting}
        >
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
      {p && <Understood book={book} preview={p} request={request} onChange={onChange} />}
      {p && <KeepMapping key={p.mapping.name} book={book.id} preview={p} />}
    </section>
  );
}

function Understood({
  book,
  preview: p,
  request,
  onChange,
}: {
  book: Book;
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
        {/* A plan is never one of actuals: its scenario was not said yet. */}
        {p.scenario && !(p.kind === "plan" && p.scenario === "Actual") ? ` of ${p.scenario}` : ""}
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
        <p className="tie ties">
          It would land as it is; nothing is changed yet.
          {(p.receipt?.warnings.length ?? 0) > 0 && " What to be sure of first stands below the rows."}
        </p>
      )}
      {p.receipt && (
        <Refusals
          refused={p.receipt.refused}
          fix={(x) => (x.unknown ? <Unknown book={book} refusal={x} request={request} onChange={onChange} /> : null)}
        />
      )}
      {(p.receipt?.refused.length ?? 0) > 0 && (
        <RefusedRows href={`/api/books/${book.id}/uploads/${request.upload}/refused`} />
      )}
      <Scroll label="First rows">
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
              // biome-ignore lint/suspicious/noArrayIndexKey: the first rows of a file, as they stand in it
              <tr key={i}>
                {row.map((f, j) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its column
                  <td key={j} className="text">
                    {f}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      {p.receipt && <ReceiptView receipt={p.receipt} />}
    </>
  );
}

/** Keeps the way in which this file is read, so that the next one of its kind needs no correction. */
function KeepMapping({ book, preview }: { book: string; preview: LoadPreview }) {
  const queries = useQueryClient();
  const [name, setName] = useState(preview.mapping.name);
  const keep = useMutation({
    mutationFn: () => api.keepMapping(book, name.trim(), preview.mapping),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["mappings", book] }),
  });
  return (
    <form
      className="keep"
      onSubmit={(e) => {
        e.preventDefault();
        keep.mutate();
      }}
    >
      <TextInput
        label="Read files like this one so again"
        description="A name in lower-case letters, digits and dashes"
        placeholder="ledger-monthly"
        size="xs"
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        error={
          keep.error ? `${keep.error.message} ${keep.error instanceof Problem ? (keep.error.remedy ?? "") : ""}` : null
        }
      />
      <Button type="submit" size="xs" variant="default" disabled={name.trim().length === 0} loading={keep.isPending}>
        Keep the mapping
      </Button>
      {keep.isSuccess && <span role="status">Kept as {keep.data.name}.</span>}
    </form>
  );
}
