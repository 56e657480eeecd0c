import { Button } from "@mantine/core";
import { useClipboard } from "@mantine/hooks";
import type { TrailStep } from "../api/client";

/** The steps from the first question to here; each leads back to its paper. */
export function TrailPanel({ steps, onWalk }: { steps: TrailStep[]; onWalk: (to: number) => void }) {
  const clipboard = useClipboard();
  return (
    <aside className="trail" aria-label="Trail">
      <h2>Trail</h2>
      <ol>
        {steps.map((step, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step of a trail is its place in it
          <li key={i} aria-current={i === steps.length - 1 ? "step" : undefined}>
            {i === steps.length - 1 ? (
              <span>{step.label}</span>
            ) : (
              <button type="button" onClick={() => onWalk(i + 1)}>
                {step.label}
              </button>
            )}
          </li>
        ))}
      </ol>
      <div className="trailactions">
        {steps.length > 1 && (
          <Button size="compact-sm" variant="default" onClick={() => onWalk(steps.length - 1)} title="Alt+←">
            One step back
          </Button>
        )}
        <Button size="compact-sm" variant="default" onClick={() => clipboard.copy(window.location.href)}>
          {clipboard.copied ? "Link copied" : "Copy link"}
        </Button>
      </div>
    </aside>
  );
}
