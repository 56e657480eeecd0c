import { Button } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Book } from "../api/client";
import { exact } from "../format";
import { Notice } from "../Notice";

/** Which figures are not what they were before the latest load; late postings are marked. */
export function Changed({ book }: { book: Book }) {
  const [open, setOpen] = useState(false);
  const changes = useQuery({
    queryKey: ["changes", book.id, book.edition],
    queryFn: () => api.changes(book),
    enabled: open,
  });
  const c = changes.data;
  return (
    <>
      <h2>What changed</h2>
      <Button size="compact-sm" variant="default" onClick={() => setOpen(!open)} aria-expanded={open}>
        {open ? "Close" : "Show what the latest change did to the figures"}
      </Button>
      {open && changes.isPending && <Notice title="Comparing…" waiting />}
      {changes.error && <Notice title="The editions cannot be compared" error={changes.error} />}
      {open && c && (
        <section className="paper scrolling" aria-label="Changed figures">
          <p className="quiet">
            {c.loads.join("; ")}. {c.total === 0 && "No figure changed."}
            {c.total > c.changes.length && `The ${c.changes.length} largest of ${c.total.toLocaleString("en-GB")}.`}
          </p>
          {c.changes.length > 0 && (
            <table className="grid">
              <thead>
                <tr>
                  <th scope="col">Account</th>
                  <th scope="col">Entity</th>
                  <th scope="col">Month</th>
                  <th scope="col">Scenario</th>
                  <th scope="col" className="subject">
                    Before
                  </th>
                  <th scope="col" className="subject">
                    After
                  </th>
                  <th scope="col" className="subject">
                    Change (income +)
                  </th>
                  <th scope="col">Late</th>
                </tr>
              </thead>
              <tbody>
                {c.changes.map((x) => (
                  <tr key={`${x.scenario}${x.period}${x.account}${x.entity}`}>
                    <th scope="row">{x.accountName}</th>
                    <td className="text">{x.entityName}</td>
                    <td className="text">{x.periodName}</td>
                    <td className="text">{x.scenario}</td>
                    <td className="subject">{x.before ? exact(x.before) : "—"}</td>
                    <td className="subject">{x.after ? exact(x.after) : "—"}</td>
                    <td className="subject">{exact(x.difference)}</td>
                    <td className="text">{x.late ? "late" : ""}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
      )}
    </>
  );
}
