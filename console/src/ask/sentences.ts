import type { Sentence } from "../api/client";

/** What carries the movement, what went against it, and the evidence stand in paragraphs of their own. */
export function paragraphs(sentences: Sentence[]): Sentence[][] {
  const about = (s: Sentence) => (s.role === "entry" ? 2 : s.role === "offset" || s.role === "rest" ? 1 : 0);
  return [0, 1, 2].map((part) => sentences.filter((s) => about(s) === part)).filter((p) => p.length > 0);
}

/** Text and figures; the bracket or stop beside a figure belongs to it, so that no line breaks between them. */
export function pieces(sentence: Sentence) {
  const result: { before: string; text: string; after: string; figure?: Sentence["segments"][number] }[] = [];
  let before = "";
  for (const segment of sentence.segments) {
    if (segment.slice) {
      result.push({ before, text: segment.text, after: "", figure: segment });
      before = "";
      continue;
    }
    let text = before + segment.text.replace(/(\d) %/g, "$1\u00a0%");
    const last = result.at(-1);
    if (last?.figure) {
      last.after = /^[),.:]*/.exec(text)?.[0] ?? "";
      text = text.slice(last.after.length);
    }
    before = text.endsWith("(") ? "(" : "";
    result.push({ before: "", text: text.slice(0, text.length - before.length), after: "" });
  }
  if (before) result.push({ before: "", text: before, after: "" });
  return result;
}
