import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { api, type Book, type Question, type TrailStep } from "../api/client";

const LONGEST_ID = 40;

/** The service keeps trails and the address names one, so a link holds all of it and the browser's back walks it. */
export function useTrail(book: Book) {
  const [params, setParams] = useSearchParams();
  const queries = useQueryClient();
  const id = params.get("trail");
  const keyOf = (trail: string | null) => ["trail", book.id, trail];
  const kept = useQuery({
    queryKey: keyOf(id),
    queryFn: () => stepsOf(book.id, id as string),
    enabled: id !== null,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const go = useMutation({
    mutationFn: (steps: TrailStep[]) => (steps.length > 0 ? api.keepTrail(book.id, steps) : Promise.resolve(null)),
    onSuccess: (trail) => {
      if (trail) queries.setQueryData(keyOf(trail.id), trail.steps);
      setParams(trail ? { trail: trail.id } : {});
    },
  });
  return {
    /** The talk so far, as the service keeps it; null before the first answer. */
    id: id !== null && id.length <= LONGEST_ID ? id : null,
    steps: (id && kept.data) || [],
    go: go.mutate,
    busy: kept.isLoading || go.isPending,
    error: go.error ?? kept.error,
  };
}

/** Links of older releases held the steps themselves, and are longer than any id. */
async function stepsOf(book: string, trail: string): Promise<TrailStep[]> {
  const written = trail.length > LONGEST_ID ? decode(trail) : null;
  if (written?.length === 0) return [];
  return (written ? await api.keepTrail(book, written) : await api.trail(book, trail)).steps;
}

/** What cannot be read is no trail: the page starts afresh. */
export function decode(text: string): TrailStep[] {
  try {
    const bytes = Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));
    const steps: unknown = JSON.parse(new TextDecoder().decode(bytes));
    return Array.isArray(steps)
      ? steps
          .filter((s): s is { q: Question; label: string; with?: boolean } => typeof s?.label === "string" && s.q?.form)
          .map(({ q, ...step }) => ({ question: q, ...step }))
      : [];
  } catch {
    return [];
  }
}

/** Where the papers begin that were asked for together with the last one. */
export function together(steps: TrailStep[]): number {
  let first = steps.length - 1;
  while (first > 0 && steps[first]?.with) first--;
  return Math.max(0, first);
}
