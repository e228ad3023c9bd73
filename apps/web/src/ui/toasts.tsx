import { X } from 'lucide-react';
import { createContext, type ReactNode, useCallback, useContext, useMemo, useRef, useState } from 'react';

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

const LIFE = 9000;

const TONES = {
  plain: 'border-rule-strong bg-sheet',
  warn: 'border-warn bg-warn-wash',
  stop: 'border-stop bg-stop-wash',
};

/** Short messages in the lower left corner; errors stay until they are dismissed. */
export function ToastProvider({ children }: { children: ReactNode }) {
  const [list, setList] = useState<(Toast & { id: number })[]>([]);
  const last = useRef(0);
  const drop = useCallback((id: number) => setList((all) => all.filter((t) => t.id !== id)), []);
  const say = useCallback(
    (toast: Toast) => {
      const id = ++last.current;
      setList((all) => [...all.slice(-2), { ...toast, id }]);
      if (toast.tone !== 'stop') setTimeout(() => drop(id), LIFE);
    },
    [drop],
  );
  const toasts = useMemo(() => ({ say }), [say]);
  return (
    <Context value={toasts}>
      {children}
      <div aria-live="polite" className="fixed bottom-[104px] left-4 z-50 flex max-w-96 flex-col gap-2">
        {list.map((t) => (
          <div
            key={t.id}
            className={`flex items-start gap-3 rounded border px-3 py-2 shadow-sm ${TONES[t.tone ?? 'plain']}`}
          >
            <p className="grow">{t.text}</p>
            {t.action && (
              <button
                type="button"
                className="font-semibold text-lapis underline underline-offset-2"
                onClick={() => {
                  t.action?.run();
                  drop(t.id);
                }}
              >
                {t.action.label}
              </button>
            )}
            <button
              type="button"
              aria-label="Dismiss"
              className="text-ink-soft hover:text-ink"
              onClick={() => drop(t.id)}
            >
              <X size={16} aria-hidden />
            </button>
          </div>
        ))}
      </div>
    </Context>
  );
}
