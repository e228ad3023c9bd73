import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';

/** Says what a control does, and its key, when it is pointed at or has the focus. */
export function Tip({ text, keys, children }: { text: string; keys?: string; children: ReactNode }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={5}
          collisionPadding={8}
          className="z-50 flex max-w-72 items-baseline gap-2 rounded bg-ink px-2 py-1 text-sheet text-sm shadow"
        >
          {text}
          {keys && <kbd className="num text-[12px] opacity-80">{keys}</kbd>}
          <Tooltip.Arrow className="fill-ink" />
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

/** Round everything that has tips. */
export const Tips = ({ children }: { children: ReactNode }) => (
  <Tooltip.Provider delayDuration={350} skipDelayDuration={150}>
    {children}
  </Tooltip.Provider>
);
