import type { RecordTable } from "../api/client";
import { exact, rounded } from "../format";
import { Scroll } from "../Scroll";

const numeric = (type: string) => ["amount", "quantity", "rate"].includes(type);

/** Records or journals that were asked for, with what holds for all of them. */
export function Records({ table }: { table: RecordTable }) {
  const show = (value: string | null, type: string) => {
    if (value === null) return "";
    if (type === "amount") return exact(value);
    // An average of days is no truer for its third decimal.
    if (type === "quantity" && value.includes(".")) return rounded(value, 1);
    return type === "date" && value.length > 10 ? value.slice(0, 16).replace("T", " ") : value;
  };
  return (
    <>
      {table.rows.length > 0 && (
        <Scroll label="Records">
          <table className="grid rows">
            <thead>
              <tr>
                {table.columns.map((c) => (
                  <th key={c.id} scope="col" className={numeric(c.type) ? "subject" : undefined}>
                    {c.title}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {table.rows.map((r, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: rows that were gathered have no file and row of their own
                <tr key={`${r.load}-${r.row}-${i}`}>
                  {r.values.map((v, at) => (
                    <td
                      key={table.columns[at]?.id}
                      className={numeric(table.columns[at]?.type ?? "") ? "subject" : "text"}
                      title={r.load > 0 ? `load ${r.load}, line ${Math.abs(r.row)}` : undefined}
                    >
                      {show(v, table.columns[at]?.type ?? "text")}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </>
  );
}
