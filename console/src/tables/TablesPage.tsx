import { Button, NativeSelect, TextInput } from "@mantine/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Book, type Table } from "../api/client";
import { exact } from "../format";
import { Notice } from "../Notice";
import { Scroll } from "../Scroll";

const shown = 50;

/** Records of a table by conditions, in an order, page by page, with their number and sums. */
export function TablesPage({ book }: { book: Book }) {
  const tables = useQuery({ queryKey: ["tables", book.id, book.edition], queryFn: () => api.tables(book) });
  const [chosen, setChosen] = useState("");
  const records = (tables.data ?? []).filter((t) => t.code !== "ledger");
  const table = records.find((t) => t.code === chosen) ?? records[0];
  return (
    <div className="loads">
      <h1>Tables</h1>
      {tables.isPending && <Notice title="Looking for tables…" waiting />}
      {tables.error && <Notice title="The tables cannot be listed" error={tables.error} />}
      {tables.data && records.length === 0 && (
        <Notice title="No tables of records yet">
          Invoices, orders, claims: any table that is no ledger and no plan. Load one on the page Loads and say that it
          holds records.
        </Notice>
      )}
      {records.length > 1 && (
        <NativeSelect
          label="Table"
          size="xs"
          w={260}
          mb="md"
          value={table?.code ?? ""}
          data={records.map((t) => ({ value: t.code, label: t.name }))}
          onChange={(e) => setChosen(e.currentTarget.value)}
        />
      )}
      {table && <Records key={table.code} book={book} table={table} />}
    </div>
  );
}

function Records({ book, table }: { book: Book; table: Table }) {
  const [typed, setTyped] = useState("");
  const [where, setWhere] = useState<string[]>([]);
  const [order, setOrder] = useState<string | undefined>();
  const [skip, setSkip] = useState(0);
  const page = useQuery({
    queryKey: ["records", book.id, book.edition, table.code, where, order, skip],
    queryFn: () =>
      api.records(book, table.code, {
        where,
        order,
        limit: shown,
        cursor: skip > 0 ? String(skip) : undefined,
      }),
    placeholderData: keepPreviousData,
  });
  const numeric = (type: string) => ["amount", "quantity", "rate"].includes(type);
  const sort = (code: string) => {
    setOrder(order === `-${code}` ? code : order === code ? undefined : `-${code}`);
    setSkip(0);
  };
  const p = page.data;
  return (
    <section className="paper" aria-label={table.name}>
      <h2>{table.name}</h2>
      <form
        className="controls"
        onSubmit={(e) => {
          e.preventDefault();
          setSkip(0);
          setWhere(
            typed
              .split(",")
              .map((w) => w.trim())
              .filter((w) => w.length > 0),
          );
        }}
      >
        <TextInput
          label="Only where"
          description={`FIELD is, has, from or to VALUE; commas between conditions. Fields: ${table.fields.map((f) => f.code).join(", ")}`}
          placeholder="status is open, due-date to 2026-08-31"
          size="xs"
          w={640}
          value={typed}
          onChange={(e) => setTyped(e.currentTarget.value)}
        />
        <Button type="submit" size="xs" variant="default">
          Show
        </Button>
      </form>
      {page.error && <Notice title="The records cannot be listed" error={page.error} />}
      {p && (
        <>
          <p className="quiet" role="status">
            {p.count.toLocaleString("en-GB")} records
            {p.sums.map(
              (s) =>
                `; ${table.fields.find((f) => f.code === s.field)?.name}${s.currency ? ` ${s.currency}` : ""} ${exact(s.sum).trim()}`,
            )}
          </p>
          <Scroll label="Records">
            <table className="grid rows">
              <thead>
                <tr>
                  {table.fields.map((f) => (
                    <th
                      key={f.code}
                      scope="col"
                      className={numeric(f.type) ? "subject" : undefined}
                      aria-sort={order === f.code ? "ascending" : order === `-${f.code}` ? "descending" : undefined}
                    >
                      <button type="button" className="sorts" onClick={() => sort(f.code)}>
                        {f.name}
                        {order === f.code ? " ↑" : order === `-${f.code}` ? " ↓" : ""}
                      </button>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {p.records.map((r) => (
                  <tr key={`${r.load}-${r.row}`}>
                    {table.fields.map((f) => (
                      <td key={f.code} className={numeric(f.type) ? "subject" : "text"}>
                        {f.type === "amount" && r.fields[f.code] ? exact(r.fields[f.code] ?? "") : r.fields[f.code]}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
          <p className="controls">
            <Button size="compact-sm" variant="default" disabled={skip === 0} onClick={() => setSkip(skip - shown)}>
              Page before
            </Button>
            <Button size="compact-sm" variant="default" disabled={!p.next} onClick={() => setSkip(skip + shown)}>
              Next page
            </Button>
          </p>
        </>
      )}
    </section>
  );
}
