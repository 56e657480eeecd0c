import type { Breakdown, Filter, Kind, Layout, OfRows, Question, Scope } from "../api/client";

/** The parts of a question that are lists, there or not. */
export const filtersOf = (q: Question): Filter[] => q.scope.filters ?? [];
export const basesOf = (q: Question): string[] => q.scope.bases ?? [];
export const rowsOf = (q: Question): Breakdown[] => q.layout?.rows ?? [];
export const conditionsOf = (q: Question) => q.layout?.conditions ?? [];
export const subjectOf = (q: Question): string => q.scope.subject ?? "actual";

/** What is asked of the rows of a table; nothing where the kind has none. */
export const ofRows = (q: Question): OfRows =>
  q.kind.is === "values" || q.kind.is === "comparison" ? (q.kind.of ?? {}) : {};

/** The same question with another scope, laid out otherwise, of another kind, or asking something else of its rows. */
export const inScope = (q: Question, change: Partial<Scope>): Question => ({ ...q, scope: { ...q.scope, ...change } });
export const laid = (q: Question, change: Partial<Layout>): Question => ({ ...q, layout: { ...q.layout, ...change } });
export const ofKind = (q: Question, kind: Kind): Question => ({ ...q, kind });
export const asking = (q: Question, change: Partial<OfRows>): Question =>
  q.kind.is === "values" || q.kind.is === "comparison"
    ? { ...q, kind: { ...q.kind, of: { ...q.kind.of, ...change } } }
    : q;

/** The plain table of the same scope. */
export const asTable = (q: Question): Question =>
  ofKind(
    q,
    basesOf(q).length > 0 ? { is: "comparison", growth: q.kind.is === "why" ? q.kind.growth : null } : { is: "values" },
  );

export const listingOf = (q: Question) =>
  q.kind.is === "entries" || q.kind.is === "records" ? (q.kind.listing ?? null) : null;

/** The address of the cells that the question speaks of, in its first period. */
export function sliceOf(q: Question): string {
  const filters = filtersOf(q).map(
    (f) => `;${f.dimension}${f.exclude ? "!=" : "="}${f.members.map(encodeURIComponent).join(",")}`,
  );
  const { figure, periods } = q.scope;
  return `${subjectOf(q)}@${periods[0]};figure=${figure.slice(0, 2)}${encodeURIComponent(figure.slice(2))}${filters.join("")}`;
}
