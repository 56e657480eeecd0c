import type { Sentence } from "../api/client";
import { paragraphs, pieces } from "./sentences";

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

function Segments({ sentence, onLight, onOpen }: { sentence: Sentence } & Omit<CommentaryProps, "sentences">) {
  return pieces(sentence).map(({ before, text, after, figure }, i) => {
    const slice = figure?.slice;
    if (!slice) return text;
    const light = () => onLight({ slice, column: figure.column ?? null });
    return (
      // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of a sentence never change places
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
