import { Check, TriangleAlert } from 'lucide-react';

/** Whether something keeps to its limit, in a word with its mark. */
export function Within({ within, yes, no }: { readonly within: boolean; readonly yes: string; readonly no: string }) {
  const Mark = within ? Check : TriangleAlert;
  return (
    <span className={`flex items-center gap-1 font-semibold ${within ? 'text-mineral' : 'text-rust'}`}>
      <Mark aria-hidden className="size-4" /> {within ? yes : no}
    </span>
  );
}
