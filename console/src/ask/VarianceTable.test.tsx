// @vitest-environment jsdom
import { act, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test, vi } from "vitest";
import { api, type Grid, Problem, type Question } from "../api/client";
import { answer, book, grid, question, row, set, shown } from "../testing";
import { VarianceTable } from "./VarianceTable";

const drilled = vi.fn();
const opened = vi.fn();

const table = (of: Grid, q: Question = question) =>
  shown(<VarianceTable book={book} grid={of} question={q} lit={null} onDrill={drilled} onEntries={opened} />);
const names = () => [...document.querySelectorAll("th[scope=row]")].map((h) => h.textContent?.replace(/^[▸▾…]/, ""));
const value = (amount: string) => ({ subject: amount, base: "0.00", variance: amount });

test("a row opens to those below it, and closes again", async () => {
  const drill = vi.spyOn(api, "drill").mockResolvedValue(
    set({
      answers: [
        answer("", {
          grid: grid([row("Ship A", value("3.00")), row("Ship B", value("4.00")), row("T", {}, { kind: "total" })]),
        }),
      ],
    }),
  );
  table(grid([row("North", value("7.00")), row("All", value("7.00"), { kind: "total" })]));
  await userEvent.click(screen.getByRole("button", { name: "Open North" }));
  expect(drill).toHaveBeenCalledWith(book, question, "slice of North", "entity");
  expect(names()).toEqual(["North", "Ship A", "Ship B", "All"]);
  await userEvent.click(screen.getByRole("button", { name: "Close North" }));
  expect(names()).toEqual(["North", "All"]);
});

test("what goes wrong while a row opens is told below the table", async () => {
  vi.spyOn(api, "drill").mockRejectedValue(new Problem("The book was erased.", "List the books."));
  table(grid([row("North", value("7.00"))]));
  await userEvent.click(screen.getByRole("button", { name: "Open North" }));
  expect(within(await screen.findByRole("alert")).getByText("The book was erased.")).toBeTruthy();
  expect(names()).toEqual(["North"]);
});

test("a figure leads to its entries, exact to what is stored", async () => {
  table(grid([row("North", { subject: "1234567.8912", base: "1000000.00", variance: "234567.8912" })]));
  const cell = screen.getByRole("button", { name: "North, Actual: 1,234.6. Show entries" });
  expect(cell.title).toBe("1,234,567.8912 exactly; shows its entries");
  await userEvent.click(cell);
  expect(opened).toHaveBeenCalledWith("slice of North", "actual", "North, Actual", undefined);
});

test("what is absent says why", () => {
  table(grid([row("North", { subject: null, base: "1.00", variance: null }, { states: { subject: "not-kept" } })]));
  expect(screen.getByTitle("not kept apart").textContent).toBe("–");
});

test("the rest of ranked pairs leads nowhere, since no address says it", () => {
  const pairs = { ...question, layout: { ranking: { count: 2, by: "size" as const, ascending: false, pairs: true } } };
  table(grid([row("Other (7)", value("1.00"), { kind: "other", canOpen: false })]), pairs);
  expect(screen.queryByRole("button")).toBeNull();
});

test("of a long table only rows near the window are drawn, on paper all of them", () => {
  const rows = Array.from({ length: 250 }, (_, i) => row(`Ship ${i}`, value(`${i}.00`), { canOpen: false }));
  table(grid(rows));
  expect(names().length).toBeLessThan(200);
  expect(names()[0]).toBe("Ship 0");
  expect(screen.getByRole("table").getAttribute("aria-rowcount")).toBe("251");
  act(() => {
    window.dispatchEvent(new Event("beforeprint"));
  });
  expect(names()).toHaveLength(250);
});
