import { useSearchParams } from "react-router";
import type { Question } from "../api/client";

/** One step of a trail: the question, how one came to it, and the words when it was typed. */
export interface Step {
  q: Question;
  label: string;
  /** Asked in one text with the step before it: their papers stand under each other. */
  with?: boolean;
}

/** The trail lives in the address, so a link holds all of it and the browser's back walks it. */
export function useTrail(): { steps: Step[]; go: (steps: Step[]) => void } {
  const [params, setParams] = useSearchParams();
  return {
    steps: decode(params.get("trail")),
    go: (steps) => setParams(steps.length > 0 ? { trail: encode(steps) } : {}),
  };
}

export function encode(steps: Step[]): string {
  const bytes = new TextEncoder().encode(JSON.stringify(steps));
  return btoa(String.fromCharCode(...bytes))
    .replaceAll("+", "-")
    .replaceAll("/", "_")
    .replaceAll("=", "");
}

/** Questions of the first form are taken as they are: the service reads them as what they are now. A trail that cannot be read is no trail: the page starts afresh. */
export function decode(text: string | null): Step[] {
  if (!text) return [];
  try {
    const bytes = Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));
    const steps: unknown = JSON.parse(new TextDecoder().decode(bytes));
    return Array.isArray(steps)
      ? steps.filter((s): s is Step => typeof s?.label === "string" && (s.q?.form === 2 || s.q?.form === 1))
      : [];
  } catch {
    return [];
  }
}

/** Where the papers begin that were asked for together with the last one. */
export function together(steps: Step[]): number {
  let first = steps.length - 1;
  while (first > 0 && steps[first]?.with) first--;
  return Math.max(0, first);
}
