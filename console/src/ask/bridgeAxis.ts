import type { Chart } from "../api/client";

/** Where the axis of a bridge begins: totals are cut below when the steps would be too small to see. */
export function bridgeAxis(chart: Chart) {
  let level = 0;
  const ends = chart.points.flatMap((point) => {
    const amount = Number(point.subject ?? 0);
    level = point.step === "start" || point.step === "end" ? amount : level + amount;
    return [level];
  });
  const low = Math.min(...ends);
  const high = Math.max(...ends);
  if (low <= 0 || high === low || high - low >= low * 0.6) return { min: Math.min(0, low), interval: undefined };
  const interval = roundStep((high - low) / 2);
  return { min: Math.max(0, Math.floor((low - (high - low) * 0.3) / interval) * interval), interval };
}

/** The next of 1, 2, 5, 10, 20 … at or above. */
function roundStep(size: number): number {
  const power = 10 ** Math.floor(Math.log10(size));
  return power * ([1, 2, 5].find((n) => n * power >= size) ?? 10);
}
