import { useWindowVirtualizer, windowScroll } from '@tanstack/react-virtual';
import { type ReactNode, useCallback, useLayoutEffect, useRef, useState } from 'react';
import { useIsDrawn } from '../use-is-drawn.ts';

interface RowsInViewProps<Row> {
  rows: readonly Row[];
  /** Height of a row that has not been seen yet, in pixels. */
  heightPx: number;
  columns: number;
  /** One or more rows of the table for an entry. @param place from 1, with the heads counted, as readers count rows */
  children(row: Row, place: number): ReactNode;
}

/** So many rows are kept ready on either side of the window, for the arrow keys and for a quick wheel. */
const OVERSCAN = 12;

/** Where rows begin on most pages. */
const FIRST_MARGIN_PX = 300;

/** The body of a long table: only what is near the window is drawn, and the rest keeps its height. Each entry is a row group of its own. */
export function RowsInView<Row extends { id: string }>({ rows, heightPx, columns, children }: RowsInViewProps<Row>) {
  const top = useRef<HTMLTableSectionElement>(null);
  const [scrollMargin, setScrollMargin] = useState(FIRST_MARGIN_PX);
  // what is seen comes first: rows are drawn with the page and laid out once, before their place in it is known
  const isDrawn = useIsDrawn();
  // with other functions each time, the places of all rows would be worked out anew for every frame
  const getItemKey = useCallback((index: number) => rows[index].id, [rows]);
  const estimateSize = useCallback(() => heightPx, [heightPx]);
  // rows begin where the window is; to be told to go there, it would lay out the page at once
  const hasBegun = useRef(false);
  const view = useWindowVirtualizer({
    count: rows.length,
    estimateSize,
    getItemKey,
    overscan: isDrawn ? OVERSCAN : 0,
    scrollMargin,
    scrollToFn: (...how) => {
      if (hasBegun.current) windowScroll(...how);
      hasBegun.current = true;
    },
    initialRect: { width: window.innerWidth, height: window.innerHeight },
    // asking for the height of a row that has just come would lay out the page at once; the observer tells it for nothing
    measureElement: (_, entry) => entry?.borderBoxSize[0].blockSize ?? heightPx,
  });
  // what lies above the table can grow and shrink, but not while somebody scrolls
  useLayoutEffect(() => {
    if (!isDrawn || view.isScrolling || !top.current) return;
    setScrollMargin(Math.round(top.current.getBoundingClientRect().top + window.scrollY));
  });
  const drawn = view.getVirtualItems();
  const before = drawn.length ? drawn[0].start - scrollMargin : 0;
  const after = drawn.length ? view.getTotalSize() + scrollMargin - drawn[drawn.length - 1].end : 0;
  return (
    <>
      <Space ref={top} heightPx={before} columns={columns} />
      {drawn.map(({ index, key }) => (
        <tbody key={key} ref={view.measureElement} data-index={index}>
          {children(rows[index], index + 2)}
        </tbody>
      ))}
      <Space heightPx={after} columns={columns} />
    </>
  );
}

function Space({
  ref,
  heightPx,
  columns,
}: {
  ref?: React.Ref<HTMLTableSectionElement>;
  heightPx: number;
  columns: number;
}) {
  return (
    <tbody ref={ref} aria-hidden>
      {heightPx > 0 && (
        <tr>
          <td colSpan={columns} style={{ height: heightPx, padding: 0, border: 0 }} />
        </tr>
      )}
    </tbody>
  );
}
