import type { ReactNode } from "react";

/** What may be wider or longer than its place, and is scrolled there: by the keyboard as well, for which it takes the focus. */
export function Scroll({ label, children }: { label: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls has to be reached without a mouse (WCAG 2.1.1)
    <section className="scroll" tabIndex={0} aria-label={label}>
      {children}
    </section>
  );
}
