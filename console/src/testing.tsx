import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter, useLocation } from "react-router";
import { afterEach, vi } from "vitest";
import type { Answer, AnswerSet, Book, Grid, Question, Row } from "./api/client";

/** What parts of the console are tested with: a page around them, and answers of a small made-up book. */

afterEach(cleanup);

/** Draws a part as the console does. The address stands in the element named "address". */
export function shown(part: ReactNode, address = "/") {
  vi.stubGlobal("matchMedia", (query: string) => ({
    matches: false,
    media: query,
    addEventListener: () => {},
    removeEventListener: () => {},
    addListener: () => {},
    removeListener: () => {},
  }));
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
  window.scrollTo = () => {};
  Element.prototype.scrollIntoView = () => {};
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <MantineProvider env="test">
      <QueryClientProvider client={queries}>
        <MemoryRouter initialEntries={[address]}>
          {part}
          <Address />
        </MemoryRouter>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

function Address() {
  const { pathname, search } = useLocation();
  return <output aria-label="address">{pathname + search}</output>;
}

export const book: Book = {
  id: "quay",
  name: "Quay Company",
  currency: "EUR",
  fiscalYearStartMonth: 1,
  provenance: "invented",
  edition: 4,
  currentPeriod: "2026-P09",
  currentPeriodName: "September 2026",
  closedThroughName: null,
  dimensions: [
    { code: "account", name: "Account", role: "account", levels: ["Group", "Account"], members: 40 },
    { code: "entity", name: "Entity", role: "entity", levels: ["Region", "Company"], members: 6 },
    { code: "route", name: "Route", role: "other", levels: ["Route"], members: 9 },
  ],
  scenarios: [
    { code: "actual", name: "Actual", kind: "actual", versions: [] },
    { code: "budget-2026", name: "Budget 2026", kind: "budget", versions: [] },
  ],
  figures: [
    { ref: "m:result", name: "Result", unit: "EUR" },
    { ref: "a:FUEL", name: "Fuel", unit: "EUR" },
  ],
  periods: [
    { code: "2026-P08", name: "August 2026" },
    { code: "2026-P09", name: "September 2026" },
  ],
  suggestions: ["result versus budget by company", "why did fuel rise in August"],
  notices: [],
};

export const question: Question = {
  form: 2,
  scope: { figure: "a:FUEL", periods: ["2026-P09"], subject: "actual", bases: ["budget-2026"], filters: [] },
  kind: { is: "comparison" },
  layout: { rows: [{ by: "entity", level: "Company" }] },
};

export const row = (label: string, values: Record<string, string | null>, more: Partial<Row> = {}): Row => ({
  id: label,
  level: 0,
  kind: "member",
  label,
  members: { entity: { id: label, code: label, name: label } },
  values,
  states: {},
  slice: `slice of ${label}`,
  canOpen: true,
  ...more,
});

export const grid = (rows: Row[]): Grid => ({
  unit: "EUR",
  decimals: 2,
  columns: [
    column("subject", "Actual", "actual"),
    column("base", "Budget 2026", "budget-2026"),
    column("variance", "Variance", null),
  ],
  rows,
});

const column = (kind: "subject" | "base" | "variance", title: string, scenario: string | null) => ({
  id: kind,
  kind,
  title,
  scenario,
  periods: "2026-P09",
  periodsName: "September 2026",
});

export const answer = (headline: string, more: Partial<Answer> = {}): Answer => ({
  id: headline,
  headline,
  form: "table",
  question,
  grid: grid([row("Total", { subject: "10.00", base: "9.00", variance: "-1.00" }, { kind: "total" })]),
  entries: null,
  charts: [],
  commentary: [
    { role: "headline", text: headline, segments: [{ text: headline, exact: null, column: null, slice: null }] },
  ],
  drivers: [],
  tieOut: { state: "ties", shown: "10.00", lines: "10.00", count: 3, text: "3 lines add up to it." },
  notes: [],
  next: ["by month instead"],
  ...more,
});

export const set = (more: Partial<AnswerSet>): AnswerSet => ({
  outcome: "answered",
  edition: 4,
  provenance: "invented",
  reading: { sentence: "", parts: [], assumed: [], unused: [] },
  choices: [],
  because: null,
  nearest: [],
  answers: [],
  ...more,
});
