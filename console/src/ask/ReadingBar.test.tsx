// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test, vi } from "vitest";
import type { Kind, Question } from "../api/client";
import { book, question, set, shown } from "../testing";
import { ReadingBar } from "./ReadingBar";

const reading = set({}).reading;

/** What is put when a part is changed or taken off. */
function bar(q: Question, parts: { part: string; words: string; means: string }[] = [], asked = "") {
  const onPut = vi.fn();
  shown(
    <ReadingBar
      book={book}
      question={q}
      asked={asked}
      onPut={onPut}
      reading={reading && { ...reading, parts: parts.map((p) => ({ ...p, value: "" })) }}
    />,
  );
  return () => onPut.mock.calls.at(-1)?.[0] as Question;
}

const kind = (of: Kind): Question => ({ ...question, kind: of });
const remove = (name: string | RegExp) => userEvent.click(screen.getByRole("button", { name }));

test.each<[string, Question, RegExp, (q: Question) => unknown]>([
  [
    "a filter",
    { ...question, scope: { ...question.scope, filters: [{ dimension: "route", members: ["R1"], exclude: false }] } },
    /Remove filter R1/,
    (q) => q.scope.filters,
  ],
  [
    "a ranking",
    { ...question, layout: { ranking: { count: 3, by: "size", ascending: false } } },
    /Remove ranking/,
    (q) => q.layout?.ranking ?? [],
  ],
  [
    "a condition",
    { ...question, layout: { conditions: [{ on: "amount", direction: "over", value: "5" }] } },
    /Remove condition/,
    (q) => q.layout?.conditions,
  ],
  [
    "a display",
    { ...question, layout: { display: { view: "bars" } } },
    /Remove display/,
    (q) => q.layout?.display ?? [],
  ],
  [
    "a currency",
    { ...question, scope: { ...question.scope, currency: "SEK" } },
    /Remove currency/,
    (q) => q.scope.currency ?? [],
  ],
  [
    "shares",
    kind({ is: "comparison", of: { shares: {} } }),
    /Remove share/,
    (q) => (q.kind as { of?: { shares?: unknown } }).of?.shares ?? [],
  ],
  ["growth", kind({ is: "why", growth: true }), /Remove growth/, (q) => (q.kind as { growth?: boolean }).growth ?? []],
  [
    "a further figure",
    { ...kind({ is: "values", beside: ["a:OIL"] }), scope: { ...question.scope, bases: [] } },
    /Remove figure/,
    (q) => (q.kind as { beside?: string[] }).beside,
  ],
])("%s is taken off, and nothing else of the question changes", async (_, q, name, left) => {
  const put = bar(q);
  await remove(name);
  expect(left(put())).toEqual([]);
  expect(put().scope.figure).toBe(q.scope.figure);
  expect(put().scope.periods).toEqual(q.scope.periods);
  expect(put().kind.is).toBe(q.kind.is);
});

test("of two bases one can be taken off, of one none", async () => {
  const put = bar({ ...question, scope: { ...question.scope, bases: ["budget-2026", "prior-year"] } });
  await remove("Remove base Prior year");
  expect(put().scope.bases).toEqual(["budget-2026"]);
});

test("the last base stays, since a comparison needs one", () => {
  bar(question);
  expect(screen.queryByRole("button", { name: /Remove base/ })).toBeNull();
});

test("another figure is searched for and picked; rows by account go with the old one", async () => {
  const put = bar({
    ...question,
    layout: {
      rows: [
        { by: "account", level: null },
        { by: "month", level: null },
      ],
    },
  });
  await userEvent.click(screen.getByRole("button", { name: "figure: Fuel. Change" }));
  await userEvent.type(screen.getByLabelText("Search for another figure"), "res{Enter}");
  expect(put().scope.figure).toBe("m:result");
  expect(put().layout?.rows).toEqual([{ by: "month", level: null }]);
});

test("another split takes its place, and a ranking of the old rows goes", async () => {
  const put = bar({
    ...question,
    layout: { rows: [{ by: "entity", level: "Company" }], ranking: { count: 3, by: "size", ascending: false } },
  });
  await userEvent.click(screen.getByRole("button", { name: "breakdown: company. Change" }));
  await userEvent.click(await screen.findByRole("menuitem", { name: "Month" }));
  expect(put().layout?.rows).toEqual([{ by: "month", level: null }]);
  expect(put().layout?.ranking ?? null).toBeNull();
});

test("words of the question are marked as the parts that they were read as", () => {
  bar(
    question,
    [
      { part: "figure", words: "fuel", means: "Fuel" },
      { part: "base", words: "versus … plan", means: "Budget 2026" },
    ],
    "Fuel versus the plan",
  );
  expect([...document.querySelectorAll("mark")].map((m) => [m.textContent, m.title])).toEqual([
    ["Fuel", "read as figure"],
    ["versus", "read as base"],
    ["plan", "read as base"],
  ]);
});

test("what was not used is said before what was assumed", () => {
  shown(
    <ReadingBar
      book={book}
      question={question}
      asked=""
      onPut={() => {}}
      reading={{ sentence: "", parts: [], unused: ["somehow"], assumed: ["the current month"] }}
    />,
  );
  expect(document.querySelector(".assumed")?.textContent).toBe("Not used: somehow. Assumed: the current month.");
});
