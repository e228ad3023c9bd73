import type { ButtonHTMLAttributes } from 'react';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  readonly look?: 'plain' | 'main' | 'quiet' | 'danger';
}

const LOOKS = {
  plain: 'border-rule-strong bg-sheet hover:border-ink',
  main: 'border-ink bg-ink text-sheet hover:bg-[#2c3c47]',
  quiet: 'border-transparent bg-transparent hover:bg-paper-deep',
  danger: 'border-stop bg-sheet text-stop hover:bg-stop-wash',
};

/** A button with a word on it. */
export function Button({ look = 'plain', className = '', ...rest }: Props) {
  return (
    <button
      type="button"
      className={`inline-flex h-[30px] items-center justify-center gap-1.5 whitespace-nowrap rounded border px-2.5 disabled:cursor-not-allowed disabled:opacity-45 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
