import { expect, test } from "vitest";
import type { Grid } from "./api/client";
import { accounting, exact, scaleOf, short } from "./format";

const grid = (unit: string, amount: string): Grid => ({
  unit,
  decimals: 2,
  columns: [
    {
      id: "subject",
      kind: "subject",
      title: "Actual",
      scenario: "actual",
      periods: "2026-P09",
      periodsName: "September 2026",
    },
  ],
  rows: [
    {
      id: "total",
      level: 0,
      kind: "total",
      label: "x",
      members: {},
      values: { subject: amount },
      states: {},
      slice: "",
      canOpen: false,
    },
  ],
});

test("negatives stand in parentheses and keep their digits", () => {
  expect(accounting("-1234.5", { divisor: 1, decimals: 2 })).toBe("(1,234.50)");
  expect(accounting("1234.5", { divisor: 1000, decimals: 1 })).toBe("1.2\u2007");
});

test("amounts are rounded as they stand, however long they are", () => {
  // As binary numbers these would be 1.00, 2.67 and 123,456,789,012,345,680.00.
  expect(accounting("1.005", { divisor: 1, decimals: 2 })).toBe("1.01\u2007");
  expect(accounting("-2675", { divisor: 1000, decimals: 2 })).toBe("(2.68)");
  expect(exact("123456789012345678.91")).toBe("123,456,789,012,345,678.91\u2007");
});

test("what rounds to zero is not shown as negative", () => {
  expect(accounting("-0.04", { divisor: 1, decimals: 1 })).toBe("0.0\u2007");
});

test("only money is scaled, and the heading says so", () => {
  expect(scaleOf(grid("EUR", "-250000.00"))).toEqual({ divisor: 1000, decimals: 1, heading: "EUR thousand" });
  expect(scaleOf(grid("passengers", "250000")).divisor).toBe(1);
  expect(scaleOf(grid("EUR", "99999.99")).divisor).toBe(1);
});

test("exact amounts keep every stored decimal", () => {
  expect(exact("12.3456")).toBe("12.3456\u2007");
  expect(exact("-7")).toBe("(7.00)");
});

test("chart labels are short", () => {
  expect(["1240000.00", "-310000", "4120", "412", "0.00"].map(short)).toEqual(["1.24m", "(310k)", "4.1k", "412", "0"]);
});
