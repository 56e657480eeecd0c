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
      {rest.length > 0 && (
        <p>
          {rest.map((s) => (
            <span key={s.text} className={`role-${s.role}`}>
              <Segments sentence={s} onLight={onLight} onOpen={onOpen} />{" "}
            </span>
          ))}
        </p>
      )}
    </section>
  );
}

function Segments({ sentence, onLight, onOpen }: { sentence: Sentence } & Omit<CommentaryProps, "sentences">) {
  return sentence.segments.map((s, i) => {
    const slice = s.slice;
    if (!slice) return s.text;
    const light = () => onLight({ slice, column: s.column ?? null });
    return (
      <button
        key={i}
        type="button"
        className="figure"
        title={`${s.exact} exactly; opens its cells`}
        onMouseEnter={light}
        onFocus={light}
        onMouseLeave={() => onLight(null)}
        onBlur={() => onLight(null)}
        onClick={() => onOpen(slice)}
      >
        {s.text}
      </button>
    );
  });
}
