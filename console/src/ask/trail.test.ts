import { expect, test } from "vitest";
import { decode, encode, type Step } from "./trail";

const step: Step = {
  label: "Skelmar–Ormsay, für Überblick",
  q: {
    form: 2,
    scope: { figure: "m:operating-profit", periods: ["2026-P09"], bases: ["budget-2026"] },
    kind: { is: "why" },
  },
};

test("a trail survives the way through the address", () => {
  expect(decode(encode([step, step]))).toEqual([step, step]);
  expect(encode([step])).toMatch(/^[\w-]+$/);
});

test("what is no trail is an empty one", () => {
  for (const text of [null, "", "%%%", "bm90IGpzb24", encode([]), btoa("[1,null,{}]")])
    expect(decode(text)).toEqual([]);
});
