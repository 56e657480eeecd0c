// @vitest-environment jsdom
import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test, vi } from "vitest";
import { api, type Line, Problem, type RecordTable } from "../api/client";
import { book, shown } from "../testing";
import { Entries } from "./Entries";
import { Records } from "./Records";

const line = (row: number, more: Partial<Line> = {}): Line => ({
  load: 3,
  row,
  file: "ledger.csv",
  document: `D${row}`,
  date: "2026-09-03",
  period: "2026-P09",
  members: { entity: { id: "C1", code: "C1", name: "North" }, account: { id: "F", code: "F", name: "Fuel" } },
  amount: "12.50",
  localAmount: null,
  currency: null,
  text: "bunkering",
  fields: {},
  ...more,
});
const page = (lines: Line[], next: string | null) => ({ lines, count: 102, sum: "1275.00", next, fields: [] });
const list = (more = {}) => shown(<Entries book={book} slice="s" title="Fuel" {...more} />);

test("lines come page by page, in the order that is chosen", async () => {
  const lines = vi
    .spyOn(api, "lines")
    .mockResolvedValueOnce(page([line(2), line(3)], "c1"))
    .mockResolvedValueOnce(page([line(4)], null))
    .mockResolvedValueOnce(page([line(9)], null));
  list();
  expect(await screen.findByText(/102 lines, 1,275.00 in all/)).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "More lines" }));
  expect(await screen.findByText("D4")).toBeTruthy();
  expect(lines.mock.calls[1]?.[1].cursor).toBe("c1");
  expect(screen.queryByRole("button", { name: "More lines" })).toBeNull();
  await userEvent.selectOptions(screen.getByLabelText("Order of the lines"), "newest");
  expect(await screen.findByText("D9")).toBeTruthy();
  expect(lines.mock.calls[2]?.[1]).toMatchObject({ order: "newest", cursor: undefined });
});

test("a line leads to its row of the file, with the rate at which it was translated", async () => {
  vi.spyOn(api, "lines").mockResolvedValue(
    page(
      [
        line(7, {
          localAmount: "140.00",
          currency: "SEK",
          rate: { value: "11.2", quotation: "foreign-per-home", set: "actual", load: 2, file: "rates.csv" },
        }),
      ],
      null,
    ),
  );
  vi.spyOn(api, "sourceRow").mockResolvedValue({
    load: 3,
    file: "ledger.csv",
    sheet: "",
    sha256: "ab12",
    loadedAt: "2026-10-01T08:00:00Z",
    row: 7,
    headings: ["Doc", "Text"],
    fields: ["D7", ""],
  });
  list();
  await userEvent.click(await screen.findByRole("button", { name: "Source of D7: ledger.csv, row 7" }));
  const drawer = await screen.findByRole("dialog");
  expect(await within(drawer).findByText("140.00 SEK")).toBeTruthy();
  expect(drawer.textContent).toContain("11.2 SEK for one EUR, actual; from rates.csv (load 2)");
  expect(within(drawer).getByText("—")).toBeTruthy();
});

test("columns that were asked for stand in their order", async () => {
  vi.spyOn(api, "lines").mockResolvedValue(page([line(2)], null));
  list({ columns: ["amount", "text"] });
  expect((await screen.findAllByRole("columnheader")).map((h) => h.textContent)).toEqual(["Amount", "Text", "From"]);
});

test("lines that cannot be read say so", async () => {
  vi.spyOn(api, "lines").mockRejectedValue(new Problem("This edition can no longer be read.", "Leave it out."));
  list();
  expect(within(await screen.findByRole("alert")).getByText("Leave it out.")).toBeTruthy();
});

test("cells of records are shown by their type", () => {
  const table: RecordTable = {
    columns: [
      { id: "n", title: "Number", type: "key" },
      { id: "a", title: "Amount", type: "amount" },
      { id: "d", title: "Days", type: "quantity" },
      { id: "t", title: "Entered", type: "date" },
    ],
    rows: [{ values: ["I-1", "-1234.5", "12.3333", "2026-09-03T08:15:00"], load: 4, row: 2 }],
    totals: [],
    count: 1,
  };
  shown(<Records table={table} />);
  expect(screen.getAllByRole("cell").map((c) => c.textContent)).toEqual([
    "I-1",
    "(1,234.50)",
    "12.3",
    "2026-09-03 08:15",
  ]);
  expect(screen.getByText("I-1").title).toBe("load 4, line 2");
});
