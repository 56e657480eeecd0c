import type { Sentence } from "../api/client";

interface CommentaryProps {
  sentences: Sentence[];
  onLight: (at: { slice: string; column: string | null } | null) => void;
  onOpen: (slice: string) => void;
}

/** The headline, then the paragraph. Every figure lights up its cells and leads to them. */
export function Commentary({ sentences, onLight, onOpen }: CommentaryProps) {
  const [headline, ...rest] = sentences;
  return (
    <section className="commentary" aria-label="Commentary">
      {headline && (
        <h1>
          <Segments sentence={headline} onLight={onLight} onOpen={onOpen} />
        </h1>
      )}
      {paragraphs(rest).map((sentences) => (
        <p key={sentences[0]?.text}>
          {sentences.map((s) => (
            <span key={s.text}>
              <Segments sentence={s} onLight={onLight} onOpen={onOpen} />{" "}
            </span>
          ))}
        </p>
      ))}
    </section>
  );
}

/** What carries the movement, what went against it, and the evidence stand in paragraphs of their own. */
function paragraphs(sentences: Sentence[]): Sentence[][] {
  const about = (s: Sentence) => (s.role === "entry" ? 2 : s.role === "offset" || s.role === "rest" ? 1 : 0);
  return [0, 1, 2].map((part) => sentences.filter((s) => about(s) === part)).filter((p) => p.length > 0);
}

/** Text and figures; the bracket or stop beside a figure belongs to it, so that no line breaks between them. */
function pieces(sentence: Sentence) {
  const result: { before: string; text: string; after: string; figure?: Sentence["segments"][number] }[] = [];
  let before = "";
  for (const segment of sentence.segments) {
    if (segment.slice) {
      result.push({ before, text: segment.text, after: "", figure: segment });
      before = "";
      continue;
    }
    let text = segment.text.replace(/(\d) %/g, "$1\u00a0%");
    const last = result.at(-1);
    if (last?.figure) {
      last.after = /^[),.:]*/.exec(text)?.[0] ?? "";
      text = text.slice(last.after.length);
    }
    before = text.endsWith("(") ? "(" : "";
    result.push({ before: "", text: text.slice(0, text.length - before.length), after: "" });
  }
  return result;
}

function Segments({ sentence, onLight, onOpen }: { sentence: Sentence } & Omit<CommentaryProps, "sentences">) {
  return pieces(sentence).map(({ before, text, after, figure }, i) => {
    const slice = figure?.slice;
    if (!slice) return text;
    const light = () => onLight({ slice, column: figure.column ?? null });
    return (
      <span key={i} className="kept">
        {before}
        <button
          type="button"
          className="figure"
          title={`${figure.exact} exactly; opens its cells`}
          onMouseEnter={light}
          onFocus={light}
          onMouseLeave={() => onLight(null)}
          onBlur={() => onLight(null)}
          onClick={() => onOpen(slice)}
        >
          {text}
        </button>
        {after}
      </span>
    );
  });
}
