import type { ButtonHTMLAttributes } from 'react';

const KINDS = {
  plain: 'border-edge bg-surface text-ink hover:bg-hover active:bg-pressed',
  main: 'border-pine bg-pine text-on-pine hover:brightness-110 active:brightness-95',
  quiet: 'border-transparent text-ink hover:bg-hover active:bg-pressed',
  mend: 'border-rust bg-surface text-ink hover:bg-hover active:bg-pressed',
} as const;

export type ButtonKind = keyof typeof KINDS;

export const buttonClass = (kind: ButtonKind = 'plain', large = false): string =>
  `inline-flex items-center justify-center gap-2 rounded-md border px-3 font-semibold whitespace-nowrap disabled:border-line disabled:bg-transparent disabled:text-disabled ${large ? 'min-h-11' : 'min-h-9'} ${KINDS[kind]}`;

type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & { kind?: ButtonKind; large?: boolean };

/** A verb with its object. */
export function Button({ kind = 'plain', large = false, className = '', ...rest }: ButtonProps) {
  return <button type="button" className={`${buttonClass(kind, large)} ${className}`} {...rest} />;
}
