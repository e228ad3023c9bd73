import { ScrollArea } from 'radix-ui';
import type { ReactNode, Ref } from 'react';
import { nonce } from './nonce.ts';

/** A part that scrolls within its own height or width, its bars shown for as long as there is more to see. */
export function Scroll({
  sideways = false,
  className = '',
  inner,
  children,
}: {
  sideways?: boolean;
  className?: string;
  /** what scrolls, for lists that draw only what is seen */
  inner?: Ref<HTMLDivElement>;
  children: ReactNode;
}) {
  const thumb = 'rounded-full bg-rule-strong hover:bg-ink-soft';
  return (
    <ScrollArea.Root type="auto" className={`min-w-0 overflow-hidden ${className}`}>
      <ScrollArea.Viewport ref={inner} nonce={nonce} className="h-full max-h-[inherit] w-full [&>div]:!block">
        {children}
      </ScrollArea.Viewport>
      <ScrollArea.Scrollbar
        orientation={sideways ? 'horizontal' : 'vertical'}
        className={sideways ? 'flex h-2.5 touch-none flex-col p-0.5' : 'flex w-2.5 touch-none p-0.5'}
      >
        <ScrollArea.Thumb className={`relative grow ${thumb}`} />
      </ScrollArea.Scrollbar>
    </ScrollArea.Root>
  );
}
