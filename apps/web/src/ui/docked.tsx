import { X } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';

/** A dialog that leaves the page around it in reach: the path above it, what it amounts to beside it. */
export function Docked({
  title,
  hint,
  onClose,
  children,
}: {
  title: string;
  hint?: string;
  onClose: () => void;
  children: ReactNode;
}) {
  const panel = useRef<HTMLElement>(null);
  // Where the path fills a small screen, the panel below it comes up.
  useEffect(() => {
    if (matchMedia('(max-width: 1023px)').matches) panel.current?.scrollIntoView();
  }, []);
  return (
    <section
      ref={panel}
      role="dialog"
      aria-label={title}
      className="scroll-mt-2"
      onKeyDown={({ key }) => {
        if (key === 'Escape') onClose();
      }}
    >
      <div className="-mt-2 mb-1 flex items-center justify-between gap-4">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h2 className="text-2xl">{title}</h2>
          {hint && <p className="text-soft">{hint}</p>}
        </div>
        <button
          type="button"
          aria-label="Close"
          onClick={onClose}
          className="grid size-11 shrink-0 place-items-center rounded-xl hover:bg-paper"
        >
          <X aria-hidden />
        </button>
      </div>
      {children}
    </section>
  );
}

/** The key that ends it stays in view, however much lies above it. */
export function DockedKeep({ children }: { children: ReactNode }) {
  return (
    <div className="sticky bottom-0 z-10 -mx-4 flex flex-wrap gap-3 border-t border-line bg-card px-4 py-2.5 max-lg:bottom-16">
      {children}
    </div>
  );
}
