import { Menu } from "@mantine/core";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Book, type Column, type Grid, type Question, type Row } from "../api/client";
import { cell, exact, type Scale, scaleOf } from "../format";
import { Notice } from "../Notice";
import { LongBody } from "./LongBody";
import { asTable, rowsOf } from "./question";

interface VarianceTableProps {
  book: Book;
  grid: Grid;
  question: Question;
  lit: { slice: string; column: string | null } | null;
  onDrill: (slice: string, by: string | null, label: string) => void;
  onEntries: (slice: string, scenario: string | undefined, title: string, figure?: string) => void;
}

const stateWords: Record<string, string> = { missing: "no figures", "not-kept": "not kept apart", "n/m": "n/m" };

/** The variance table. A row opens in place to the level below, or is stepped into by any dimension, down to its entries. */
export function VarianceTable({ book, grid, question, lit, onDrill, onEntries }: VarianceTableProps) {
  const [below, setBelow] = useState<Record<string, Row[]>>({});
  const [loading, setLoading] = useState<string | null>(null);
  const [failed, setFailed] = useState<Error | null>(null);
  const queries = useQueryClient();
  const scale = scaleOf(grid, question.layout?.display);
  const scales = grid.columns.map((c) => (c.kind === "beside" ? scaleOf(grid, question.layout?.display, c) : scale));
  // Of several units each column says its own.
  const mixed = scales.some((s) => s.heading !== scale.heading);
  const blocks = [...new Set(grid.columns.map((c) => c.periods))];

  async function toggle(row: Row) {
    if (below[row.slice]) {
      const { [row.slice]: _, ...rest } = below;
      setBelow(rest);
      return;
    }
    setLoading(row.slice);
    setFailed(null);
    const set = await queries
      .fetchQuery({
        queryKey: ["below", book.id, book.edition, row.slice, JSON.stringify(question)],
        queryFn: () =>
          api.drill(
            book,
            question.kind.is === "why" || question.kind.is === "bridge" ? asTable(question) : question,
            row.slice,
            stepBelow(row, question),
          ),
      })
      .catch(setFailed)
      .finally(() => setLoading(null));
    if (!set) return;
    const rows = set.answers[0]?.grid?.rows.filter((r) => r.kind !== "total" && r.kind !== "calculated") ?? [];
    setBelow({ ...below, [row.slice]: rows });
  }

  /** The rows as they stand, with those that were opened below theirs. */
  const shown = (rows: Row[], depth: number): { row: Row; depth: number }[] =>
    rows.flatMap((row) => [
      { row, depth },
      ...(row.kind === "total" ? [] : shown(below[row.slice] ?? [], depth + row.level + 1)),
    ]);
  const rows = shown(grid.rows, 0);
  const heads = blocks.length > 1 ? 2 : 1;

  function render(index: number): React.ReactNode {
    const { row, depth } = rows[index] as { row: Row; depth: number };
    const opens = row.canOpen && blocks.length === 1 && row.kind !== "total" && !hasRowsBelow(grid, row);
    return (
      <BodyRow
        key={`${depth}-${row.id}-${row.slice}`}
        {...{ book, row, grid, scales, depth, lit, question, onDrill, onEntries }}
        index={heads + index}
        open={below[row.slice] !== undefined && row.kind !== "total"}
        busy={loading === row.slice}
        onToggle={opens ? () => toggle(row) : undefined}
      />
    );
  }

  return (
    <section className="tablewrap" aria-label="Table">
      <table className="grid" aria-rowcount={rows.length + heads}>
        <thead>
          {blocks.length > 1 && (
            <tr>
              <th />
              {blocks.map((b) => (
                <th key={b} colSpan={grid.columns.filter((c) => c.periods === b).length} scope="colgroup">
                  {grid.columns.find((c) => c.periods === b)?.periodsName}
                </th>
              ))}
            </tr>
          )}
          <tr>
            <th scope="col">{mixed ? "" : scale.heading}</th>
            {grid.columns.map((c, i) => (
              <th key={c.id} scope="col" className={c.kind}>
                {c.title}
                {mixed && (c.kind === "beside" || c.kind === "subject") && (
                  <span className="unit">{scales[i]?.heading}</span>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <LongBody count={rows.length} columns={grid.columns.length + 1} row={render} />
      </table>
      {failed && <Notice title="The row cannot be opened" error={failed} />}
    </section>
  );
}

/** The next level of the row's own split: a quarter opens to months, a member to those below it. */
function stepBelow(row: Row, question: Question): string | null {
  const own = Object.keys(row.members).at(-1);
  if (own === "period") return rowsOf(question).some((b) => b.by === "year") ? "quarter" : "month";
  return own ?? null;
}

function hasRowsBelow(grid: Grid, row: Row): boolean {
  const next = grid.rows[grid.rows.indexOf(row) + 1];
  return next !== undefined && next.level > row.level;
}

interface BodyRowProps extends VarianceTableProps {
  row: Row;
  /** Of all rows of the table, those of its head first. */
  index: number;
  scales: Scale[];
  depth: number;
  open: boolean;
  busy: boolean;
  onToggle?: () => void;
}

function BodyRow({
  book,
  row,
  index,
  grid,
  question,
  scales,
  depth,
  lit,
  open,
  busy,
  onToggle,
  onDrill,
  onEntries,
}: BodyRowProps) {
  const isLit = lit !== null && lit.slice === row.slice;
  const title = row.kind === "total" ? row.label : `${row.label}`;
  const used = new Set(Object.keys(row.members));
  // The rest of ranked pairs is "all but these", which no address says: it leads nowhere rather than to everything.
  const leads = !(row.kind === "other" && question.layout?.ranking?.pairs);
  return (
    <tr className={`${row.kind} ${isLit ? "lit" : ""}`} aria-busy={busy} aria-rowindex={index + 1}>
      <th scope="row" style={{ paddingInlineStart: `${0.3 + (row.level + depth) * 1.1}rem` }}>
        {onToggle ? (
          <button
            type="button"
            className="twist"
            aria-expanded={open}
            aria-label={`${open ? "Close" : "Open"} ${row.label}`}
            onClick={onToggle}
          >
            {busy ? "…" : open ? "▾" : "▸"}
          </button>
        ) : (
          <span className="twist" />
        )}
        {!leads && <span>{row.label}</span>}
        {leads && (
          <Menu position="bottom-start" withinPortal>
            <Menu.Target>
              <button type="button" className="rowlabel" aria-label={`${row.label}: step into`}>
                {row.label}
              </button>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Label>Step into {row.label}</Menu.Label>
              {row.canOpen && (
                <Menu.Item onClick={() => onDrill(row.slice, stepOf(row), title)}>one level down</Menu.Item>
              )}
              {book.dimensions
                .filter((d) => d.members > 0 && !used.has(d.code))
                .map((d) => (
                  <Menu.Item
                    key={d.code}
                    onClick={() =>
                      onDrill(
                        row.slice,
                        `${d.code}:${d.levels.at(-1)}`,
                        `${title}, by ${d.levels.at(-1)?.toLowerCase()}`,
                      )
                    }
                  >
                    by {d.levels.at(-1)?.toLowerCase()}
                  </Menu.Item>
                ))}
              {!used.has("period") && (
                <Menu.Item onClick={() => onDrill(row.slice, "month", `${title}, by month`)}>by month</Menu.Item>
              )}
              <Menu.Divider />
              <Menu.Item onClick={() => onEntries(row.slice, undefined, title)}>ledger entries</Menu.Item>
            </Menu.Dropdown>
          </Menu>
        )}
      </th>
      {grid.columns.map((c, i) => (
        <Cell
          key={c.id}
          column={c}
          row={row}
          scale={scales[i] as Scale}
          lit={isLit && (lit.column === c.id || lit.column === null)}
          onEntries={
            leads
              ? () => onEntries(row.slice, c.scenario ?? undefined, `${row.label}, ${c.title}`, c.figure ?? undefined)
              : undefined
          }
        />
      ))}
    </tr>
  );
}

function stepOf(row: Row): string | null {
  const own = Object.keys(row.members).at(-1);
  return own === "period" ? "month" : (own ?? null);
}

function Cell({
  column,
  row,
  scale,
  lit,
  onEntries,
}: {
  column: Column;
  row: Row;
  scale: Scale;
  lit: boolean;
  onEntries?: () => void;
}) {
  const value = row.values[column.id] ?? null;
  const state = row.states[column.id];
  const className = `${column.kind} ${lit ? "lit" : ""} ${column.kind === "mark" && value ? `is-${value}` : ""}`;
  if (value === null)
    return (
      <td className={`${className} absent`}>
        {state ? <span title={stateWords[state]}>{state === "n/m" ? "n/m" : "–"}</span> : ""}
      </td>
    );
  const text = cell(value, column, scale);
  if (!onEntries || !["subject", "base", "beside"].includes(column.kind)) return <td className={className}>{text}</td>;
  return (
    <td className={className}>
      <button
        type="button"
        className="cell"
        title={`${exact(value).trim()} exactly; shows its entries`}
        aria-label={`${row.label}, ${column.title}: ${text.trim()}. Show entries`}
        onClick={onEntries}
      >
        {text}
      </button>
    </td>
  );
}
