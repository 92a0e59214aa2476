import { SUMS } from '@jarro/core';
import { Calculator, X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useEffect, useState } from 'react';
import { useMatch } from 'react-router';
import { SumForm } from './sum-form';

const KEY = 'F2';

/** The sums of the job, one key away from anywhere; on a case a result can be kept as a note. */
export function SumsButton() {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState(SUMS[0].id);
  const onCase = useMatch('/cases/:id/*');
  useEffect(() => {
    const toggle = (event: KeyboardEvent) => {
      if (event.key !== KEY) return;
      event.preventDefault();
      setOpen((before) => !before);
    };
    window.addEventListener('keydown', toggle);
    return () => window.removeEventListener('keydown', toggle);
  }, []);
  const sum = SUMS.find(({ id }) => id === chosen) ?? SUMS[0];
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="flex min-h-11 items-center gap-1.5 rounded-xl px-3 hover:bg-white/10">
        <Calculator aria-hidden className="size-5" /> Sums{' '}
        <kbd className="hidden text-[0.8rem] opacity-70 md:inline">{KEY}</kbd>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0c1218]/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-y-0 right-0 z-50 flex w-[min(34rem,100vw)] flex-col gap-4 overflow-y-auto border-l border-line bg-card p-5 shadow-2xl"
        >
          <div className="flex items-center justify-between">
            <Dialog.Title className="text-2xl">Sums</Dialog.Title>
            <Dialog.Close aria-label="Close" className="grid size-11 place-items-center rounded-xl hover:bg-paper">
              <X aria-hidden />
            </Dialog.Close>
          </div>
          <div role="tablist" aria-label="Which sum" className="flex flex-wrap gap-1.5">
            {SUMS.map(({ id, title }) => (
              <button
                key={id}
                type="button"
                role="tab"
                aria-selected={id === sum.id}
                onClick={() => setChosen(id)}
                className="min-h-11 rounded-xl border border-line px-3 text-[0.93rem] aria-selected:border-enamel aria-selected:bg-enamel aria-selected:font-semibold aria-selected:text-on-enamel"
              >
                {title}
              </button>
            ))}
          </div>
          <SumForm key={sum.id} sum={sum} caseId={onCase?.params.id} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
