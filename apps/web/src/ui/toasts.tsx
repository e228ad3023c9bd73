import { X } from 'lucide-react';
import { Toast as Base } from 'radix-ui';
import { createContext, type ReactNode, useCallback, useContext, useMemo, useRef, useState } from 'react';
import { Tip } from './tip.tsx';

interface Toast {
  readonly text: string;
  readonly tone?: 'plain' | 'warn' | 'stop';
  readonly action?: { readonly label: string; readonly run: () => void };
}

interface Toasts {
  say(toast: Toast): void;
}

const Context = createContext<Toasts | null>(null);

export function useToasts(): Toasts {
  const toasts = useContext(Context);
  if (!toasts) throw new Error('There is no place for messages here.');
  return toasts;
}

/** How long a message stays, ms; while it is pointed at or has the focus it stays longer. */
const LIFE = 9000;

const TONES = {
  plain: 'border-rule-strong bg-sheet',
  warn: 'border-warn bg-warn-wash',
  stop: 'border-stop bg-stop-wash',
};

/** Short messages in the lower left corner, F8 goes to them; errors stay until they are dismissed. */
export function ToastProvider({ children }: { children: ReactNode }) {
  const [list, setList] = useState<(Toast & { id: number })[]>([]);
  const last = useRef(0);
  const drop = useCallback((id: number) => setList((all) => all.filter((t) => t.id !== id)), []);
  const say = useCallback((toast: Toast) => {
    const id = ++last.current;
    setList((all) => [...all.slice(-2), { ...toast, id }]);
  }, []);
  const toasts = useMemo(() => ({ say }), [say]);
  return (
    <Context value={toasts}>
      <Base.Provider duration={LIFE} swipeDirection="left" label="Message">
        {children}
        {list.map((t) => (
          <Base.Root
            key={t.id}
            type={t.tone === 'stop' ? 'foreground' : 'background'}
            duration={t.tone === 'stop' ? Number.POSITIVE_INFINITY : LIFE}
            onOpenChange={(open) => !open && drop(t.id)}
            className={`flex items-start gap-3 rounded border px-3 py-2 shadow-sm ${TONES[t.tone ?? 'plain']}`}
          >
            <Base.Description className="grow">{t.text}</Base.Description>
            {t.action && (
              <Base.Action
                altText={t.action.label}
                className="font-semibold text-lapis underline underline-offset-2"
                onClick={t.action.run}
              >
                {t.action.label}
              </Base.Action>
            )}
            <Tip text="Dismiss" keys="Esc">
              <Base.Close aria-label="Dismiss" className="text-ink-soft hover:text-ink">
                <X size={16} aria-hidden />
              </Base.Close>
            </Tip>
          </Base.Root>
        ))}
        <Base.Viewport
          label="Messages ({hotkey})"
          className="fixed bottom-[104px] left-4 z-50 flex max-w-96 flex-col gap-2"
        />
      </Base.Provider>
    </Context>
  );
}
