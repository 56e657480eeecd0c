import { Button, Drawer, NativeSelect } from "@mantine/core";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, type Book, type Line, type LinePage, type Order } from "../api/client";
import { exact } from "../format";
import { Notice } from "../Notice";
import { Scroll } from "../Scroll";

interface EntriesProps {
  book: Book;
  slice: string;
  scenario?: string;
  /** A figure beside the one that the slice names. */
  figure?: string;
  title: string;
  /** Lines that the answer picked by limits, rank or document; without it all lines of the slice are read page by page. */
  picked?: LinePage;
  /** Codes of the columns that were asked for; the usual ones otherwise. */
  columns?: string[];
  /** The order that was asked for. */
  order?: Order;
  onClose?: () => void;
}

const orders: { value: Order; label: string }[] = [
  { value: "size", label: "Largest first" },
  { value: "smallest", label: "Smallest first" },
  { value: "newest", label: "Newest first" },
  { value: "oldest", label: "Oldest first" },
  { value: "loaded", label: "In file order" },
];

const usual = ["document", "date", "entity", "account", "text", "amount"];

function cell(line: Line, code: string): string {
  if (code === "document") return line.document || "—";
  if (code === "date") return line.date ?? line.period;
  if (code === "amount") return exact(line.amount);
  if (code === "text") return line.text;
  return line.members[code]?.name ?? line.fields[code] ?? "";
}

/** The lines behind a figure, a page at a time; each leads to the file and row that brought it. */
export function Entries({
  book,
  slice,
  scenario,
  figure,
  title,
  picked,
  columns,
  order: asked,
  onClose,
}: EntriesProps) {
  const [order, setOrder] = useState<Order>(asked ?? "size");
  const [source, setSource] = useState<Line | null>(null);
  const section = useRef<HTMLElement>(null);
  const pages = useInfiniteQuery({
    queryKey: ["lines", book.id, book.edition, slice, scenario, figure, order],
    queryFn: ({ pageParam }) =>
      api.lines(book, { slice, scenario, figure, order, limit: 100, cursor: pageParam ?? undefined }),
    enabled: picked === undefined,
    initialPageParam: null as string | null,
    getNextPageParam: (last) => last.next,
  });
  const first = picked ?? pages.data?.pages[0];
  const arrived = onClose !== undefined && first !== undefined;
  // Below a long table nobody would see that the list was opened.
  useEffect(() => {
    if (!arrived) return;
    section.current?.focus({ preventScroll: true });
    section.current?.scrollIntoView({ block: "start" });
  }, [arrived]);
  const shown = columns?.length ? columns : usual;
  const lines = picked?.lines ?? pages.data?.pages.flatMap((p) => p.lines) ?? [];
  return (
    <section ref={section} tabIndex={-1} className="entries" aria-label={`Entries of ${title}`}>
      <header>
        {/* An answer that is entries says so in its headline; only a list beside a table is named again. */}
        <h2>{onClose ? `Entries: ${title}` : "Entries"}</h2>
        {first && (
          <span>
            {first.count === 1 ? "1 line" : `${first.count.toLocaleString("en-GB")} lines`}, {exact(first.sum).trim()}{" "}
            in all
          </span>
        )}
        {!picked && (
          <NativeSelect
            size="xs"
            aria-label="Order of the lines"
            value={order}
            onChange={(e) => setOrder(e.currentTarget.value as Order)}
            data={orders}
          />
        )}
        {onClose && (
          <Button size="compact-sm" variant="default" onClick={onClose}>
            Close entries
          </Button>
        )}
      </header>
      {!picked && pages.isPending && <Notice title="Reading the lines…" waiting />}
      {pages.error && <Notice title="The lines cannot be read" error={pages.error} />}
      {first && lines.length === 0 && <p>There are no lines behind this figure.</p>}
      {lines.length > 0 && (
        <Scroll label="Lines">
          <table className="grid">
            <thead>
              <tr>
                {shown.map((c) => (
                  <th key={c} scope="col" className={c === "amount" ? "subject" : undefined}>
                    {first?.fields.find((f) => f.code === c)?.name ?? c.charAt(0).toUpperCase() + c.slice(1)}
                  </th>
                ))}
                <th scope="col">From</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((l) => (
                <tr key={`${l.load}-${l.row}`}>
                  {shown.map((c) => (
                    <td key={c} className={c === "amount" ? "subject" : c === "text" ? "text wraps" : "text"}>
                      {cell(l, c)}
                    </td>
                  ))}
                  <td className="text">
                    <button
                      type="button"
                      className="rowlabel"
                      onClick={() => setSource(l)}
                      aria-label={`Source of ${l.document}: ${l.file}, row ${l.row}`}
                    >
                      row {l.row}
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      {pages.hasNextPage && (
        <Button
          size="compact-sm"
          variant="default"
          loading={pages.isFetchingNextPage}
          onClick={() => pages.fetchNextPage()}
        >
          More lines
        </Button>
      )}
      <Drawer
        opened={source !== null}
        onClose={() => setSource(null)}
        position="right"
        title="Where this line came from"
        closeButtonProps={{ "aria-label": "Close" }}
      >
        {source && <SourceRow book={book} line={source} />}
      </Drawer>
    </section>
  );
}

function SourceRow({ book, line }: { book: Book; line: Line }) {
  const row = useQuery({
    queryKey: ["source", book.id, line.load, line.row],
    queryFn: () => api.sourceRow(book.id, line.load, line.row),
  });
  if (row.isPending) return <Notice title="Looking into the file…" waiting />;
  if (row.error) return <Notice title="The row cannot be shown" error={row.error} />;
  return (
    <dl className="source">
      {line.rate && (
        <>
          <dt>Posted</dt>
          <dd>
            {exact(line.localAmount ?? "0").trim()} {line.currency}
          </dd>
          <dt>Rate</dt>
          <dd>
            {line.rate.value}{" "}
            {line.rate.quotation === "foreign-per-home"
              ? `${line.currency} for one ${book.currency}`
              : `${book.currency} for one ${line.currency}`}
            , {line.rate.set}; from {line.rate.file} (load {line.rate.load})
          </dd>
        </>
      )}
      <dt>File</dt>
      <dd>{row.data.file}</dd>
      <dt>Row</dt>
      <dd>{row.data.row}</dd>
      <dt>Load</dt>
      <dd>
        {row.data.load}, {new Date(row.data.loadedAt).toLocaleString("en-GB")}
      </dd>
      <dt>SHA-256</dt>
      <dd className="hash">{row.data.sha256}</dd>
      {row.data.headings.map((h, i) => (
        <div key={h} className="field">
          <dt>{h}</dt>
          <dd>{row.data.fields[i] || "—"}</dd>
        </div>
      ))}
    </dl>
  );
}
