import type { Column, Display, Grid } from "./api/client";

const cache = new Map<number, Intl.NumberFormat>();

function number(decimals: number): Intl.NumberFormat {
  let format = cache.get(decimals);
  if (!format) {
    format = new Intl.NumberFormat("en-GB", { minimumFractionDigits: decimals, maximumFractionDigits: decimals });
    cache.set(decimals, format);
  }
  return format;
}

/** Rounds a decimal text as it stands, half away from zero: no amount becomes a binary number on its way to the page. */
export function rounded(text: string, decimals: number, divisor = 1): string {
  const size = text.replace(/^[-+]/, "");
  return number(decimals).format((divisor === 1 ? size : `${size}E-${Math.log10(divisor)}`) as `${number}`);
}

/** A scale for a whole table: it stands in the heading, never in a cell. */
export interface Scale {
  divisor: number;
  decimals: number;
  heading: string;
}

export function isMoney(unit: string): boolean {
  return /^[A-Z]{3}$/.test(unit);
}

const scaleNames: Record<number, string> = { 1000: " thousand", 1000000: " million" };

/** Money from 100,000 on is shown in thousands with one decimal, unless the question says how. Figures beside the first that are of its unit share its scale. */
export function scaleOf(grid: Grid, display?: Display | null, beside?: Column): Scale {
  const unit = beside?.unit ?? grid.unit;
  const own = unit === grid.unit ? grid.decimals : (beside?.decimals ?? grid.decimals);
  if (isMoney(unit) && (display?.scale || display?.decimals != null)) {
    const divisor = Number(display.scale ?? scaleOf(grid, null, beside).divisor);
    return {
      divisor,
      decimals: Number(display.decimals ?? (divisor === 1 ? own : divisor === 1000 ? 1 : 2)),
      heading: `${unit}${scaleNames[divisor] ?? ""}`,
    };
  }
  const amounts = grid.columns.filter((c) =>
    c.kind === "beside" ? c.unit === unit : (c.kind === "subject" || c.kind === "base") && unit === grid.unit,
  );
  const largest = Math.max(0, ...grid.rows.flatMap((r) => amounts.map((c) => Math.abs(Number(r.values[c.id] ?? 0)))));
  return isMoney(unit) && largest >= 100_000
    ? { divisor: 1000, decimals: 1, heading: `${unit} thousand` }
    : { divisor: 1, decimals: own, heading: unit };
}

/** Negatives in parentheses; positives keep the room of the parenthesis so that digits stand under each other. */
export function accounting(value: string, scale: { divisor: number; decimals: number }): string {
  const text = rounded(value, scale.decimals, scale.divisor);
  return value.startsWith("-") && /[1-9]/.test(text) ? `(${text})` : `${text}\u2007`;
}

export function exact(value: string): string {
  const decimals = Math.max(2, (value.split(".")[1] ?? "").length);
  return accounting(value, { divisor: 1, decimals });
}

/** Short form for chart labels: 1.24m, 310k, 412. */
export function short(value: string): string {
  // How large it is decides which form it takes, and no more.
  const size = Math.abs(Number(value));
  const text =
    size >= 999_950
      ? `${rounded(value, 2, 1e6)}m`
      : size >= 10_000
        ? `${rounded(value, 0, 1e3)}k`
        : size >= 1_000
          ? `${rounded(value, 1, 1e3)}k`
          : rounded(value, size < 10 && size % 1 !== 0 ? 2 : 0);
  return value.startsWith("-") && size > 0 ? `(${text})` : text;
}

export function cell(value: string, column: Column, scale: Scale): string {
  if (column.kind === "mark") return value;
  if (column.kind === "percent" || column.kind === "share") return accounting(value, { divisor: 1, decimals: 1 });
  return accounting(value, scale);
}
