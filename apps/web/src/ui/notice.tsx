import { CircleAlert } from 'lucide-react';

/** One clear error, said aloud by screen readers. */
export function ErrorNotice({ text }: { text: string | undefined }) {
  if (!text) return null;
  return (
    <p role="alert" className="flex items-start gap-2 rounded-xl border border-rust p-3 text-rust">
      <CircleAlert aria-hidden className="mt-0.5 size-5 shrink-0" />
      <span>{text}</span>
    </p>
  );
}
