import { useComputedColorScheme } from "@mantine/core";
import { BarChart, LineChart } from "echarts/charts";
import { AriaComponent, GridComponent, LegendComponent, TooltipComponent } from "echarts/components";
import { type EChartsCoreOption, init, use } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import type { Chart, ChartPoint } from "../api/client";
import { exact, short } from "../format";
import { bridgeAxis } from "./bridgeAxis";

use([BarChart, LineChart, GridComponent, TooltipComponent, LegendComponent, AriaComponent, SVGRenderer]);

interface Palette {
  ink: string;
  faint: string;
  line: string;
  sheet: string;
  actual: string;
  good: string;
  bad: string;
}

function palette(): Palette {
  const style = getComputedStyle(document.documentElement);
  const read = (name: string) => style.getPropertyValue(name).trim();
  return {
    ink: read("--ink"),
    faint: read("--faint"),
    line: read("--rule"),
    sheet: read("--sheet"),
    actual: read("--actual"),
    good: read("--good"),
    bad: read("--bad"),
  };
}

interface ChartViewProps {
  chart: Chart;
  /** Months as lines instead of bars. */
  lines?: boolean;
  onOpen: (slice: string, label: string) => void;
}

/** Draws one chart; a click on a bar opens its slice. Scenarios differ by fill: actual solid, plans outlined, past years light, forecasts hatched. */
export default function ChartView({ chart, lines, onOpen }: ChartViewProps) {
  const host = useRef<HTMLDivElement>(null);
  const scheme = useComputedColorScheme("light");
  const begin = chart.kind === "bridge" ? bridgeAxis(chart).min : 0;
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const drawing = init(element, null, { renderer: "svg" });
    drawing.setOption(option(chart, palette(), scheme, lines === true));
    drawing.on("click", (event) => {
      const point = chart.points[event.dataIndex];
      if (point?.slice) onOpen(point.slice, point.label);
    });
    const resize = new ResizeObserver(() => drawing.resize());
    resize.observe(element);
    return () => {
      resize.disconnect();
      drawing.dispose();
    };
  }, [chart, scheme, lines, onOpen]);
  return (
    <figure className="chart">
      <figcaption>
        {chart.title}
        {begin > 0 && `; the axis begins at ${tick(begin)}`}
      </figcaption>
      <div ref={host} className={`canvas ${chart.kind}`} />
      <table className="sr-only">
        <caption>{chart.title}</caption>
        <tbody>
          {chart.points.map((p) => (
            <tr key={`${p.label}${p.slice}${p.step}`}>
              <th scope="row">{p.label}</th>
              <td>{spoken(p)}</td>
              <td>{p.mark}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}

/** Axes are numbered by the library. */
const tick = (at: number) => short(String(at));

/** What a point comes to, as short as it is read out; nothing where it has no figure. */
function spoken(point: ChartPoint): string {
  const value = point.variance ?? point.subject;
  return value == null ? "" : short(value);
}

function option(chart: Chart, p: Palette, scheme: string, lines: boolean): EChartsCoreOption {
  const common = {
    animation: false,
    textStyle: { fontFamily: '"Source Sans 3 Variable", system-ui, sans-serif', color: p.ink },
    tooltip: {
      trigger: chart.kind === "months" ? "axis" : "item",
      axisPointer: { type: "shadow" },
      backgroundColor: p.sheet,
      borderColor: p.line,
      textStyle: { color: p.ink },
      confine: true,
    },
  };
  if (chart.kind === "bridge") return { ...common, ...bridge(chart, p) };
  if (chart.kind === "months") return { ...common, ...months(chart, p, scheme, lines) };
  return { ...common, ...ranked(chart, p) };
}

function colour(point: ChartPoint, p: Palette): string {
  return point.mark === "F" ? p.good : point.mark === "U" ? p.bad : p.faint;
}

function tip(point: ChartPoint | undefined): string {
  if (!point) return "";
  const amount = point.variance ?? point.subject ?? "";
  return `${escapeHtml(point.label)}<br><b>${exact(amount).trim()}</b> ${point.mark}`;
}

/** Labels come from the book, so they are text and never markup. */
function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}

/** How a scenario is filled. */
function fill(title: string | null | undefined, p: Palette) {
  if (title === "Actual") return { color: p.actual };
  if (title?.startsWith("Prior")) return { color: p.actual, opacity: 0.35 };
  if (title?.startsWith("Forecast"))
    return {
      color: p.sheet,
      borderColor: p.actual,
      borderWidth: 1.4,
      decal: { symbol: "rect", color: p.actual, dashArrayX: [1, 0], dashArrayY: [1.5, 4], rotation: -Math.PI / 4 },
    };
  return { color: p.sheet, borderColor: p.actual, borderWidth: 1.4 };
}

/** A scenario as bars, or as a line that differs by its dashes where a bar differs by its fill. */
function shape(title: string | null | undefined, p: Palette, lines: boolean) {
  if (!lines) return { type: "bar", itemStyle: fill(title, p) };
  const dashes = title === "Actual" ? "solid" : title?.startsWith("Prior") ? "dotted" : "dashed";
  return {
    type: "line",
    symbolSize: 7,
    itemStyle: { color: p.actual, opacity: title?.startsWith("Prior") ? 0.5 : 1 },
    lineStyle: { type: dashes, width: title === "Actual" ? 2.4 : 1.8 },
  };
}

function axis(p: Palette) {
  return {
    axisLine: { lineStyle: { color: p.line } },
    axisTick: { show: false },
    axisLabel: { color: p.ink, fontSize: 12 },
    splitLine: { show: false },
  };
}

/** Floating steps between two totals; connected by position, labelled with their signed amounts. */
function bridge(chart: Chart, p: Palette): EChartsCoreOption {
  let level = 0;
  const bars = chart.points.map((point) => {
    const amount = Number(point.subject ?? 0);
    const isTotal = point.step === "start" || point.step === "end";
    const from = isTotal ? 0 : level;
    const to = isTotal ? amount : level + amount;
    level = to;
    return { point, from, to, isTotal };
  });
  const { min: cut, interval } = bridgeAxis(chart);
  return {
    grid: { left: 8, right: 16, top: 28, bottom: 4, containLabel: true },
    tooltip: {
      trigger: "item",
      formatter: (e: { dataIndex: number }) => tip(chart.points[e.dataIndex]),
      confine: true,
    },
    xAxis: {
      type: "category",
      data: bars.map((b) => b.point.label),
      ...axis(p),
      axisLabel: { color: p.ink, interval: 0, width: 96, overflow: "break", fontSize: 11.5 },
    },
    yAxis: {
      type: "value",
      min: cut,
      interval,
      ...axis(p),
      axisLine: { show: false },
      axisLabel: { color: p.faint, formatter: tick, showMinLabel: cut > 0 },
      splitNumber: 3,
    },
    series: [
      {
        type: "bar",
        stack: "bridge",
        stackStrategy: "all",
        silent: true,
        itemStyle: { color: "transparent" },
        data: bars.map((b) => (b.isTotal ? 0 : Math.min(b.from, b.to))),
        barCategoryGap: "34%",
      },
      {
        type: "bar",
        stack: "bridge",
        stackStrategy: "all",
        data: bars.map((b) => ({
          value: b.isTotal ? b.to : Math.abs(b.to - b.from),
          itemStyle: b.isTotal
            ? fill(b.point.step === "end" ? "Actual" : b.point.label, p)
            : { color: colour(b.point, p) },
        })),
        label: {
          show: true,
          position: "top",
          color: p.ink,
          fontSize: 12,
          formatter: (e: { dataIndex: number }) => {
            const bar = bars[e.dataIndex];
            if (!bar) return "";
            const amount = bar.point.subject ?? "0";
            return bar.isTotal ? short(amount) : `${Number(amount) > 0 ? "+" : ""}${short(amount)} ${bar.point.mark}`;
          },
        },
      },
    ],
  };
}

/** Subject and base side by side, the gap below on its own scale. */
function months(chart: Chart, p: Palette, scheme: string, lines: boolean): EChartsCoreOption {
  const labels = chart.points.map((x) => x.label);
  const hasBase = chart.baseTitle !== null && chart.baseTitle !== undefined;
  const value = (text: string | null | undefined) => (text === null || text === undefined ? null : Number(text));
  return {
    legend: {
      top: 0,
      left: 0,
      icon: lines ? undefined : "rect",
      itemWidth: lines ? 34 : 14,
      itemHeight: 10,
      textStyle: { color: p.ink },
      data: hasBase ? [chart.subjectTitle, chart.baseTitle] : [chart.subjectTitle],
    },
    grid: hasBase
      ? [
          { left: 8, right: 16, top: 30, height: "50%", containLabel: true },
          { left: 8, right: 16, bottom: 4, height: "26%", containLabel: true },
        ]
      : [{ left: 8, right: 16, top: 30, bottom: 4, containLabel: true }],
    tooltip: {
      trigger: "axis",
      confine: true,
      backgroundColor: p.sheet,
      borderColor: p.line,
      textStyle: { color: p.ink },
      formatter: (events: { dataIndex: number }[]) => {
        const point = chart.points[events[0]?.dataIndex ?? 0];
        if (!point) return "";
        const lines = [
          `<b>${escapeHtml(point.label)}</b>`,
          `${escapeHtml(chart.subjectTitle)} ${point.subject ? exact(point.subject) : "–"}`,
        ];
        if (hasBase)
          lines.push(
            `${escapeHtml(chart.baseTitle ?? "")} ${point.base ? exact(point.base) : "–"}`,
            `Variance ${point.variance ? exact(point.variance) : "–"} ${point.mark}`,
          );
        return lines.join("<br>");
      },
    },
    xAxis: (hasBase ? [0, 1] : [0]).map((gridIndex) => ({
      type: "category",
      gridIndex,
      data: labels,
      ...axis(p),
      axisLabel: { show: gridIndex === 0, color: p.ink },
    })),
    yAxis: (hasBase ? [0, 1] : [0]).map((gridIndex) => ({
      type: "value",
      gridIndex,
      splitNumber: gridIndex === 0 ? 3 : 2,
      axisLine: { show: false },
      axisTick: { show: false },
      axisLabel: { color: p.faint, formatter: tick },
      splitLine: { lineStyle: { color: p.line, opacity: scheme === "dark" ? 0.5 : 0.7 } },
    })),
    series: [
      {
        name: chart.subjectTitle,
        ...shape(chart.subjectTitle, p, lines),
        data: chart.points.map((x) => value(x.subject)),
        barGap: "8%",
        barCategoryGap: "36%",
      },
      ...(hasBase
        ? [
            {
              name: chart.baseTitle,
              ...shape(chart.baseTitle, p, lines),
              data: chart.points.map((x) => value(x.base)),
            },
            {
              name: "Variance",
              type: "bar",
              xAxisIndex: 1,
              yAxisIndex: 1,
              barWidth: "34%",
              data: chart.points.map((x) => ({ value: value(x.variance), itemStyle: { color: colour(x, p) } })),
              label: {
                show: true,
                position: "outside",
                fontSize: 11,
                color: p.ink,
                formatter: (e: { dataIndex: number }) => {
                  const point = chart.points[e.dataIndex];
                  return point?.variance ? `${short(point.variance)} ${point.mark}` : "";
                },
              },
            },
          ]
        : []),
    ],
  };
}

/** Largest at the top, bars from a common zero line. */
function ranked(chart: Chart, p: Palette): EChartsCoreOption {
  const amount = (x: ChartPoint) => x.variance ?? x.subject ?? "0";
  const number = (x: ChartPoint) => Number(amount(x));
  return {
    grid: { left: 8, right: 60, top: 8, bottom: 4, containLabel: true },
    tooltip: {
      trigger: "item",
      formatter: (e: { dataIndex: number }) => tip(chart.points[e.dataIndex]),
      confine: true,
    },
    xAxis: { type: "value", ...axis(p), axisLine: { show: false }, axisLabel: { show: false } },
    yAxis: {
      type: "category",
      inverse: true,
      data: chart.points.map((x) => x.label),
      ...axis(p),
      axisLabel: { color: p.ink, width: 170, overflow: "truncate" },
    },
    series: [
      {
        type: "bar",
        barMaxWidth: 20,
        data: chart.points.map((x) => ({
          value: number(x),
          itemStyle:
            x.variance === null || x.variance === undefined ? fill(chart.subjectTitle, p) : { color: colour(x, p) },
          label: { position: number(x) < 0 ? "left" : "right" },
        })),
        label: {
          show: true,
          color: p.ink,
          formatter: (e: { dataIndex: number }) => {
            const point = chart.points[e.dataIndex];
            return point ? `${short(amount(point))} ${point.mark}` : "";
          },
        },
      },
    ],
  };
}
