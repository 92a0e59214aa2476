import { useEffect, useRef, useState } from 'react';

/** The drawn width in px, kept up to date. */
export function useWidth() {
  const [width, setWidth] = useState(1200);
  const element = useRef<Element | null>(null);
  const ref = (node: Element | null) => {
    element.current = node;
  };
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    if (element.current) observer.observe(element.current);
    return () => observer.disconnect();
  });
  return [ref, width] as const;
}
