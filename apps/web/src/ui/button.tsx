import type { ButtonHTMLAttributes } from 'react';

type Look = 'rust' | 'ink' | 'plain' | 'bare';

const LOOKS: Record<Look, string> = {
  rust: 'bg-rust text-on-rust hover:brightness-110',
  ink: 'bg-enamel text-on-enamel hover:brightness-125',
  plain: 'border border-line bg-card text-ink hover:border-ink',
  bare: 'text-steel underline-offset-4 hover:underline',
};

/** The one button: at least 44 px high, for gloves. A link that looks like one takes the same. */
export function buttonLook(look: Look = 'plain', className = ''): string {
  return `inline-flex min-h-11 items-center justify-center gap-2 rounded-xl px-4 font-semibold disabled:cursor-not-allowed disabled:opacity-50 ${LOOKS[look]} ${className}`;
}

export function Button({
  look = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return <button type="button" {...rest} className={buttonLook(look, className)} />;
}
