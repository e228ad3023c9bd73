import type { Assembly, Order, Plan } from '@gephyra/core/plan';
import { useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { useSearch } from '../../project/use-search.ts';
import { BeforeAfter } from '../../ui/before-after.tsx';
import { Button } from '../../ui/button.tsx';
import { Working } from '../../ui/working.tsx';
import { levelsOf } from './build-math.ts';

const ROWS: readonly [string, (of: Assembly) => string][] = [
  ['steps', (a) => String(a.steps.length)],
  ['one after the other', (a) => String(levelsOf(a.steps))],
  ['blocked', (a) => String(a.steps.filter((s) => s.blockers.length > 0).length)],
];

/** Looks for an order by taking the model apart, and holds it against the one there is. */
export function ProposeOrder({ now }: { now: Assembly }) {
  const { plan, view, change } = useProject();
  const { searching, search } = useSearch();
  const [found, setFound] = useState<{ of: Plan; order: Order; then: Assembly } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const codeOf = (key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key;
  const look = async (): Promise<void> => {
    setFailed(null);
    try {
      const order = await search('Taking it apart', (engine, tell) => engine.order(plan, tell));
      if (!order) return;
      const then = await search('Checking the steps', (engine) =>
        engine.assembly({ ...plan, order: [...order.steps] }),
      );
      if (then) setFound({ of: plan, order, then });
    } catch (error) {
      setFailed((error as Error).message);
    }
  };
  const shown = found?.of === plan ? found : null;
  if (searching) return <Working label="Search for an order" working={searching} />;
  return (
    <>
      {!shown && (
        <Button look={plan.order ? 'plain' : 'main'} className="w-full" onClick={() => void look()}>
          Propose an order
        </Button>
      )}
      {failed && <p className="mt-2 text-stop">{failed}</p>}
      {shown && (
        <section aria-label="Order as it would be" className="border-lapis border-l-[3px] bg-lapis-wash px-2.5 py-2">
          <BeforeAfter title="pairs first" rows={ROWS} before={now} after={shown.then} />
          {shown.order.locked.map((l) => (
            <p key={l.pair.join()} className="mt-1.5 text-stop">
              {codeOf(l.pair[0])} and {codeOf(l.pair[1])} hold each other whichever way they are drawn, so no order was
              found for their {l.pieces.length} pieces. Move a seam between them.
            </p>
          ))}
          {shown.order.jigs > 0 && (
            <p className="mt-1.5 text-warn">
              {shown.order.jigs === 1 ? 'One step joins' : `${shown.order.jigs} steps join`} more than two groups at
              once: hold them in a jig.
            </p>
          )}
          <div className="mt-2 flex gap-2">
            <Button
              look="main"
              onClick={() => {
                change('Take the proposed order', { do: 'set', set: { order: [...shown.order.steps] } });
                setFound(null);
              }}
            >
              Take this order
            </Button>
            <Button onClick={() => setFound(null)}>Leave it</Button>
          </div>
        </section>
      )}
    </>
  );
}
