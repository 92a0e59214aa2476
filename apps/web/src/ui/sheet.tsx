import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

/** The last thing of a sheet's form: it stays in reach at the sheet's foot, however much lies above it. */
export function SheetKeep({ children }: { children: ReactNode }) {
  return <div className="sticky -bottom-6 z-10 -mx-6 -mb-6 border-t border-line bg-card px-6 py-4">{children}</div>;
}

/** A dialog that holds one piece of work. */
export function Sheet({
  title,
  hint,
  open,
  onClose,
  wide = false,
  children,
}: {
  title: string;
  hint?: string;
  open: boolean;
  onClose: () => void;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-[#0c1218]/55" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`card fixed top-1/2 left-1/2 z-30 max-h-[92vh] w-[94vw] -translate-x-1/2 -translate-y-1/2 scroll-pb-24 overflow-y-auto p-6 shadow-2xl ${wide ? 'max-w-5xl' : 'max-w-xl'}`}
        >
          <div className="mb-4 flex items-start justify-between gap-4">
            <div>
              <Dialog.Title className="text-2xl">{title}</Dialog.Title>
              {hint && <p className="mt-1 text-soft">{hint}</p>}
            </div>
            <Dialog.Close
              aria-label="Close"
              className="grid size-11 shrink-0 place-items-center rounded-xl hover:bg-paper"
            >
              <X aria-hidden />
            </Dialog.Close>
          </div>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
