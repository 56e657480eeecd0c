import type { Receipt } from "../api/client";
import { exact } from "../format";

/** What a load did, or would do: rows, what was left out, control totals. */
export function ReceiptView({ receipt: r }: { receipt: Receipt }) {
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
export function Refusals({ refused }: { refused: Receipt["refused"] }) {
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
