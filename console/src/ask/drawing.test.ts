import { describe, expect, test } from "vitest";
import type { Chart, Sentence } from "../api/client";
import { bridgeAxis } from "./bridgeAxis";
import { paragraphs, pieces } from "./sentences";

const chart = (...amounts: number[]): Chart =>
  ({
    kind: "bridge",
    title: "",
    points: amounts.map((amount, i) => ({
      label: String(i),
      subject: String(amount),
      step: i === 0 ? "start" : i === amounts.length - 1 ? "end" : "step",
    })),
  }) as unknown as Chart;

describe("the axis of a bridge", () => {
  test("is cut at a round number below the lowest level when the steps are small beside the totals", () => {
    const { min, interval } = bridgeAxis(chart(1_786_178, 253_100, -476_500, -114_700, 1_448_100));
    expect(min).toBeGreaterThan(0);
    expect(min).toBeLessThan(1_448_100);
    expect(min % (interval ?? 1)).toBe(0);
  });

  test.each([
    [100, -80, 20],
    [-350, -97, -447],
    [0, 50, 50],
    [100, 0, 100],
  ])("begins at zero or below it where steps are large, totals negative or nothing moved: %d %d %d", (...amounts) => {
    expect(bridgeAxis(chart(...amounts)).min).toBe(Math.min(0, ...amounts.filter((_, i) => i !== 1)));
  });
});

const sentence = (...texts: string[]): Sentence =>
  ({
    role: "driver",
    text: texts.join(""),
    segments: texts.map((text) => (/^EUR/.test(text) ? { text, slice: "actual@2026-P09", exact: "1" } : { text })),
  }) as unknown as Sentence;

describe("sentences", () => {
  test("keep every character, whatever stands beside the figures", () => {
    for (const texts of [
      ["Fuel: ", "EUR 1k", " (", "EUR 2k", " against ", "EUR 3k", "), mainly North (", "EUR 1k", ")."],
      ["EUR 1k", ".", " Then (", "a word", ") and ("],
      ["nothing at all"],
    ]) {
      const whole = pieces(sentence(...texts))
        .map((p) => p.before + p.text + p.after)
        .join("");
      expect(whole).toBe(texts.join(""));
    }
  });

  test("hold the brackets and stops of a figure together with it", () => {
    const figure = pieces(sentence("Fuel (", "EUR 1k", "), and")).find((p) => p.figure);
    expect([figure?.before, figure?.text, figure?.after]).toEqual(["(", "EUR 1k", "),"]);
  });

  test("never part a number from its percent sign", () => {
    expect(pieces(sentence("18.9 % below"))[0]?.text).toBe("18.9\u00a0% below");
  });

  test("stand in three paragraphs: what carries it, what went against it, the evidence", () => {
    const all = ["driver", "timing", "offset", "rest", "entry", "threshold"].map((role) => ({
      ...sentence(role),
      role,
    }));
    expect(paragraphs(all as Sentence[]).map((p) => p.map((s) => s.role))).toEqual([
      ["driver", "timing", "threshold"],
      ["offset", "rest"],
      ["entry"],
    ]);
    expect(paragraphs([])).toEqual([]);
  });
});
