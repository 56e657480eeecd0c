import { expect, test } from "vitest";
import { decode, together } from "./trail";

const question = {
  form: 2,
  scope: { figure: "m:operating-profit", periods: ["2026-P09"], bases: ["budget-2026"] },
  kind: { is: "why" as const },
};

const written = (steps: unknown) => {
  const bytes = new TextEncoder().encode(JSON.stringify(steps));
  return btoa(String.fromCharCode(...bytes))
    .replaceAll("+", "-")
    .replaceAll("/", "_");
};

test("a link of an older release still tells its steps", () => {
  const label = "Skelmar–Ormsay, für Überblick";
  expect(
    decode(
      written([
        { q: question, label },
        { q: question, label, with: true },
      ]),
    ),
  ).toEqual([
    { question, label },
    { question, label, with: true },
  ]);
});

test("what is no trail is an empty one", () => {
  for (const text of ["", "%%%", "bm90IGpzb24", written([]), written([1, null, {}])]) expect(decode(text)).toEqual([]);
});

test("papers of one text stand together from its first demand on", () => {
  const step = { question, label: "" };
  expect(together([])).toBe(0);
  expect(together([step, step])).toBe(1);
  expect(together([step, step, { ...step, with: true }, { ...step, with: true }])).toBe(1);
});
