import { ChevronRight } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import type { ReactNode } from 'react';

/** A part that is folded away until it is asked for. */
export function Fold({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Collapsible.Root>
      <Collapsible.Trigger className="group flex items-center gap-1 text-ink-soft text-sm hover:text-ink">
        <ChevronRight size={13} aria-hidden className="group-data-[state=open]:rotate-90" />
        {title}
      </Collapsible.Trigger>
      <Collapsible.Content>{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}
