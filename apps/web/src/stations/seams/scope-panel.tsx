import type { Seam } from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { seamTitle, standingBefore } from '../../project/seam-math.ts';
import { useSelection } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { Part } from '../../ui/panels.tsx';
import { Tick } from '../../ui/tick.tsx';

interface Before {
  readonly key: string;
  readonly code: string;
  readonly name: string;
}

/** Which pieces a seam cuts, of those that stand before it. */
export function ScopePanel({ seam }: { seam: Seam }) {
  const { plan, change, engine, view } = useProject();
  const [{ piece }] = useSelection();
  const [before, setBefore] = useState<readonly Before[] | null>(null);
  const earlier = standingBefore(plan, seam);
  const ready = view !== null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what comes before the seam changes the answer
  useEffect(() => {
    if (!engine || !ready) return;
    let alive = true;
    engine.piecesBefore(plan, seam.id).then(
      (list) => alive && setBefore(list),
      () => {},
    );
    return () => {
      alive = false;
    };
  }, [engine, ready, earlier, seam.id]);
  const title = seamTitle(seam);
  const set = (label: string, scope: string[] | undefined) =>
    change(label, { do: 'setSeam', id: seam.id, set: { scope } });
  const all = seam.scope === undefined;
  const chosen = before?.find((b) => b.key === piece);
  return (
    <Part title="Scope" note={all ? 'all pieces' : `${seam.scope?.length} chosen`}>
      <Tick
        className="mb-2"
        checked={seam.locked ?? false}
        onChange={() =>
          change(`${seam.locked ? 'Unlock' : 'Lock'} ${title}`, {
            do: 'setSeam',
            id: seam.id,
            set: { locked: seam.locked ? undefined : true },
          })
        }
      >
        Proposals leave it as it is
      </Tick>
      <p className="mb-2 text-ink-soft text-sm">The pieces as they stand before this seam.</p>
      <ul aria-label="Pieces this seam cuts">
        {(before ?? []).map((b) => {
          const on = all || (seam.scope?.includes(b.key) ?? false);
          return (
            <li key={b.key}>
              <Tick
                tone="cut"
                className="py-0.5"
                checked={on}
                label={`Cut ${b.code} ${b.name}`}
                onChange={() => {
                  const now = all ? (before ?? []).map((x) => x.key) : [...(seam.scope ?? [])];
                  const next = on ? now.filter((k) => k !== b.key) : [...now, b.key];
                  const whole = before?.every((x) => next.includes(x.key)) ?? false;
                  set(`${on ? 'Keep' : 'Let'} ${title} ${on ? 'off' : 'cut'} ${b.code}`, whole ? undefined : next);
                }}
              >
                <strong className="font-semibold">{b.code}</strong> {b.name}
              </Tick>
            </li>
          );
        })}
      </ul>
      <div className="mt-2 flex gap-1.5">
        {!all && (
          <Button className="h-7" onClick={() => set(`Let ${title} cut all pieces`, undefined)}>
            Cut all pieces
          </Button>
        )}
        {chosen && (
          <Button className="h-7" onClick={() => set(`Let ${title} cut only ${chosen.code}`, [chosen.key])}>
            Only {chosen.code}, which is selected
          </Button>
        )}
      </div>
    </Part>
  );
}
