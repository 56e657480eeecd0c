import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

/** As many rows are drawn without a thought. */
const few = 200;
const usualHeight = 28;

interface LongBodyProps {
  count: number;
  columns: number;
  row: (index: number) => ReactNode;
}

/** The body of a table. Of a long one only the rows near the window are drawn; on paper all of them are. */
export function LongBody({ count, columns, row }: LongBodyProps) {
  const all = usePrinting() || count <= few;
  return all ? (
    <tbody>{Array.from({ length: count }, (_, i) => row(i))}</tbody>
  ) : (
    <NearRows count={count} columns={columns} row={row} />
  );
}

function NearRows({ count, columns, row }: LongBodyProps) {
  const body = useRef<HTMLTableSectionElement>(null);
  const [top, setTop] = useState(0);
  // What stands above the table grows and shrinks.
  useLayoutEffect(() => {
    const at = (body.current?.getBoundingClientRect().top ?? 0) + window.scrollY;
    if (Math.abs(at - top) > 1) setTop(at);
  });
  const rows = useWindowVirtualizer({
    count,
    estimateSize: () => usualHeight,
    overscan: 30,
    scrollMargin: top,
  });
  const near = rows.getVirtualItems();
  const above = (near[0]?.start ?? top) - top;
  const below = rows.getTotalSize() - ((near.at(-1)?.end ?? top) - top);
  return (
    <tbody ref={body}>
      <Room height={above} columns={columns} />
      {near.map((item) => row(item.index))}
      <Room height={below} columns={columns} />
    </tbody>
  );
}

/** Takes the place of rows that are not drawn. */
function Room({ height, columns }: { height: number; columns: number }) {
  return height > 0 ? (
    <tr className="room">
      <td colSpan={columns} style={{ height, padding: 0, border: 0 }} />
    </tr>
  ) : null;
}

function usePrinting(): boolean {
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    // The page is taken as it stands when the event ends.
    const begin = () => flushSync(() => setPrinting(true));
    const end = () => setPrinting(false);
    window.addEventListener("beforeprint", begin);
    window.addEventListener("afterprint", end);
    return () => {
      window.removeEventListener("beforeprint", begin);
      window.removeEventListener("afterprint", end);
    };
  }, []);
  return printing;
}
