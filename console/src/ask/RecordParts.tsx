import type { AnswerSet, Question } from "../api/client";
import { Part } from "./Part";
import { conditionsOf, filtersOf, inScope, laid, ofKind } from "./question";

/** Records and journals have tests in place of figures and sides. */
export function RecordParts({
  reading,
  question: q,
  periods,
  onPut,
}: {
  reading: AnswerSet["reading"];
  question: Question;
  periods: { code: string; name: string }[];
  onPut: (q: Question, label: string) => void;
}) {
  const of = (part: string) => reading?.parts.filter((p) => p.part === part) ?? [];
  if (q.kind.is !== "records") return null;
  const kind = q.kind;
  const { ask, listing } = kind;
  return (
    <>
      <span className="lead">Read as</span>
      {[...of("records"), ...of("figure")].map((p) => (
        <Part key={p.value} name={p.part} said={p.words || undefined} text={p.means} />
      ))}
      {of("period").map((p) => (
        <Part
          key={p.value}
          name="period"
          said={p.words || undefined}
          text={p.means}
          searchable
          choices={periods.map((c) => ({ value: c.code, label: c.name }))}
          onPick={(c) =>
            onPut(
              {
                ...inScope(q, { periods: [c.value] }),
                kind: {
                  ...kind,
                  ask: {
                    ...ask,
                    asAt: null,
                    // Days lie in the period that was there before; months become those that were picked.
                    tests: ask.tests
                      .filter((t) => t.kind !== "days")
                      .map((t) => (t.kind === "during" ? { ...t, other: c.label, value: c.value } : t)),
                  },
                },
              },
              c.label,
            )
          }
        />
      ))}
      {of("test").map((p, i) => (
        <Part
          key={`${p.value}${p.means}`}
          name="test"
          said={p.words || undefined}
          text={p.means}
          onRemove={
            ask.tests.length > 1 && i < ask.tests.length
              ? () =>
                  onPut(
                    ofKind(q, { ...kind, ask: { ...ask, tests: ask.tests.filter((_, j) => j !== i) } }),
                    `without “${p.means}”`,
                  )
              : undefined
          }
        />
      ))}
      {filtersOf(q).map((f, i) => (
        <Part
          key={f.dimension}
          name="filter"
          said={of("filter")[i]?.words || undefined}
          text={of("filter")[i]?.means ?? f.members.join(", ")}
          onRemove={() =>
            onPut(inScope(q, { filters: filtersOf(q).filter((_, j) => j !== i) }), `all ${f.dimension} members`)
          }
        />
      ))}
      {conditionsOf(q).map((c, i) => (
        <Part
          key={c.value}
          name="condition"
          said={of("condition")[i]?.words || undefined}
          text={of("condition")[i]?.means ?? `of at least ${c.value}`}
          onRemove={() =>
            onPut(laid(q, { conditions: conditionsOf(q).filter((_, j) => j !== i) }), "without that limit")
          }
        />
      ))}
      {listing && (
        <Part
          name="listing"
          said={of("listing")[0]?.words || undefined}
          text={of("listing")[0]?.means ?? "as asked"}
          onRemove={() => onPut(ofKind(q, { ...kind, listing: null }), "listed as usual")}
        />
      )}
      {ask.statistic && (
        <Part
          name="statistic"
          text={ask.statistic}
          onRemove={() => onPut(ofKind(q, { ...kind, ask: { ...ask, statistic: null } }), "without it")}
        />
      )}
      {ask.by && ask.by.length > 0 && (
        <Part
          name="by"
          said={of("breakdown")[0]?.words || undefined}
          text={of("breakdown")[0]?.means ?? `by ${ask.by.map((b) => b.field).join(", then ")}`}
          onRemove={() => onPut(ofKind(q, { ...kind, ask: { ...ask, by: null } }), "one by one")}
        />
      )}
    </>
  );
}
