import type { ReactNode } from "react";
import type { Receipt, Refusal, Warning } from "../api/client";
import { exact } from "../format";

/** What a load did, or would do: rows, what was left out, control totals. */
export function ReceiptView({ receipt: r }: { receipt: Receipt }) {
  const quantities = r.kind === "statistics" || r.kind === "records";
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
      {r.filter && <p>Took {r.filter}.</p>}
      {r.joined && <p>{r.joined}</p>}
      {r.coverage && <p>It {r.coverage}</p>}
      <Warnings warnings={r.warnings} />
      {r.steps.length > 1 && (
        <details>
          <summary>Rows before and after each step</summary>
          <ol>
            {r.steps.map((s) => (
              <li key={s.what}>
                {s.before.toLocaleString("en-GB")} → {s.after.toLocaleString("en-GB")}: {s.what}
              </li>
            ))}
          </ol>
        </details>
      )}
      {r.translated.map((t) => (
        <p key={t}>Translated, {t}.</p>
      ))}
      {[...r.supersedes, ...r.newMembers].map((n) => (
        <p key={n}>{n}</p>
      ))}
      {r.types.length > 0 && (
        <p>By type of account (income +): {r.types.map((t) => `${t.type} ${exact(t.net).trim()}`).join("; ")}.</p>
      )}
      {r.periods.length > 0 && (
        <table className="grid totals">
          <caption>Control totals, to hold against the source</caption>
          <thead>
            <tr>
              <th scope="col">{r.kind === "records" ? "Field" : quantities ? "Statistic" : "Period"}</th>
              {(quantities ? ["Rows", "Sum"] : ["Lines", "Debit", "Credit", "Net (income +)"]).map((h) => (
                <th key={h} scope="col" className="subject">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {r.periods.map((p) => (
              <tr key={`${p.name}${p.currency ?? ""}`}>
                <th scope="row">{p.currency ? `${p.name}, ${p.currency}` : p.name}</th>
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

/** What to look at before the load lands. */
export function Warnings({ warnings }: { warnings: Warning[] }) {
  if (warnings.length === 0) return null;
  return (
    <ul className="refusals" aria-label="Warnings">
      {warnings.map((w) => (
        <li key={w.check + w.where}>
          {w.where && `${w.where}: `}
          {w.because} {w.remedy}
        </li>
      ))}
    </ul>
  );
}

/** The refused rows as a file, to be corrected and loaded again. */
export function RefusedRows({ href }: { href: string }) {
  return (
    <p>
      <a href={href} download>
        Refused rows with their reasons, to correct and load again
      </a>
    </p>
  );
}

/** One line for each cause, with the rows that it met and, where there is one, a way to put it right. */
export function Refusals({ refused, fix }: { refused: Receipt["refused"]; fix?: (refusal: Refusal) => ReactNode }) {
  if (refused.length === 0) return null;
  return (
    <ul className="refusals">
      {refused.slice(0, 20).map((x) => (
        <li key={`${x.places[0]}${x.column}`}>
          {x.places.join(", ")}
          {x.count > x.places.length && ` and ${(x.count - x.places.length).toLocaleString("en-GB")} more`}
          {x.column && `, ${x.column}`}: {x.because} {x.remedy}
          {fix?.(x)}
        </li>
      ))}
      {refused.length > 20 && <li>… and {refused.length - 20} further causes.</li>}
    </ul>
  );
}
