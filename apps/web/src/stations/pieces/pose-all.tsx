import { hoursText, WISHES, type Wish } from '@gephyra/core/plan';
import { useState } from 'react';
import type { PosingView } from '../../engine/prints.ts';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { useSearch } from '../../project/use-search.ts';
import { BeforeAfter } from '../../ui/before-after.tsx';
import { Button } from '../../ui/button.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Working } from '../../ui/working.tsx';
import { WISH_WORDS } from './pose-words.ts';

const ROWS: readonly [string, (sum: PosingView['before']) => string][] = [
  ['time', (s) => hoursText(s.hours)],
  ['weight', (s) => `${s.grams.toFixed(0)} g`],
  ['support', (s) => `${(s.support / 1000).toFixed(1)} cm³`],
  ['fit their printer', (s) => String(s.fitting)],
];

/** The best pose for every piece, shown as before and after, and taken in one go. */
export function PoseAll() {
  const { plan, view, alike, change } = useProject();
  const { searching, search } = useSearch();
  const [wish, setWish] = useState<Wish>(plan.wish);
  const [found, setFound] = useState<{ of: typeof plan; posing: PosingView } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const posing = found?.of === plan ? found.posing : null;
  const look = async (): Promise<void> => {
    setFailed(null);
    try {
      const made = await search('Posing', (engine, tell) => engine.poseAll(plan, wish, alike.files, tell));
      if (made) setFound({ of: plan, posing: made });
    } catch (error) {
      setFailed((error as Error).message);
    }
  };
  const codeOf = (key: string): string => view?.pieces.find((p) => p.key === key)?.code ?? key;
  return (
    <section aria-label="Pose all pieces" className="pt-3">
      <div className="flex items-end gap-2">
        <Pick
          label="All pieces favour"
          value={wish}
          options={WISHES.map((value) => ({ value, label: WISH_WORDS[value] }))}
          onChange={(next) => {
            setWish(next);
            setFound(null);
          }}
        />
        <Button look="main" disabled={searching !== null || !view} onClick={() => void look()}>
          Pose all
        </Button>
      </div>
      {searching && <Working label="Posing all pieces" working={searching} />}
      {failed && <p className="mt-2 text-stop">{failed}</p>}
      {posing &&
        (posing.changed.length === 0 ? (
          <p className="mt-2 text-good">Every piece lies as well as was found.</p>
        ) : (
          <>
            <div className="mt-2">
              <BeforeAfter
                title={`${posing.changed.length === 1 ? 'one piece' : `${posing.changed.length} pieces`} laid anew`}
                rows={ROWS}
                before={posing.before}
                after={posing.after}
              />
            </div>
            <ul className="my-2 max-h-24 overflow-y-auto text-sm">
              {posing.changed.map(({ key, after }) => (
                <li key={key}>
                  <strong className="font-semibold">{codeOf(key)}</strong> {after.why}
                </li>
              ))}
            </ul>
            <div className="flex flex-wrap gap-2">
              <Button look="main" onClick={() => change('Pose all pieces', posing.change)}>
                Take these poses
              </Button>
              <Button onClick={() => setFound(null)}>Leave them</Button>
            </div>
          </>
        ))}
      {posing && posing.sides.length > 0 && (
        <div className="mt-3">
          <h3 className="mb-1 text-base">Pegs in the way</h3>
          <Findings list={posing.sides} />
        </div>
      )}
    </section>
  );
}
