import { cross, degrees, type Plan, radians, type Swing, sameShape } from '@gephyra/core/plan';
import { useEffect, useMemo, useState } from 'react';
import type { JointView, Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import type { Swung } from '../../project/shown.ts';
import { useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Slide } from '../../ui/slide.tsx';
import { Working } from '../../ui/working.tsx';

/** A direction on the model in words: "front right". */
function wayWords(way: Triple): string {
  const words = [
    ['left', 'right'],
    ['front', 'back'],
    ['down', 'up'],
  ];
  return [2, 1, 0]
    .filter((a) => Math.abs(way[a]) > 0.35)
    .map((a) => words[a][way[a] > 0 ? 1 : 0])
    .join(' ');
}

/** How far a joint that swings can be swung, found by trying; and swings it in the 3D view. */
export function SwingPanel({ joint, onSwung }: { joint: JointView; onSwung: (swung: Swung | null) => void }) {
  const { plan } = useProject();
  const { searching, search } = useSearch();
  const [found, setFound] = useState<{ readonly of: Plan; readonly swing: Swing } | null>(null);
  const [way, setWay] = useState(0);
  const [angle, setAngle] = useState(0);
  const swing = useMemo(
    () => (found && found.swing.joint === joint.id && sameShape(found.of, plan) ? found.swing : null),
    [found, joint.id, plan],
  );
  const towards = swing?.ways[way];
  useEffect(() => {
    onSwung(
      swing && towards && angle > 0
        ? {
            stays: swing.stays,
            moves: swing.moves,
            centre: swing.centre,
            axis: cross(swing.out, towards.towards),
            angle: radians(Math.min(angle, degrees(towards.free))),
          }
        : null,
    );
  }, [swing, towards, angle, onSwung]);
  useEffect(() => () => onSwung(null), [onSwung]);
  const least = swing?.ways.reduce((a, b) => (b.free < a.free ? b : a));
  const most = swing?.ways.reduce((a, b) => (b.free > a.free ? b : a));
  const free = towards ? Math.floor(degrees(towards.free)) : 0;
  return (
    <Part title="Swing" note="as the pieces are">
      <div className="flex flex-col gap-2">
        {searching ? (
          <Working label="Swinging" working={searching} />
        ) : (
          <div>
            <Button
              disabled={!joint.built}
              onClick={async () => {
                const result = await search('Swinging it', (engine, tell) => engine.swing(plan, joint.id, tell));
                if (!result) return;
                setFound({ of: plan, swing: result });
                setWay(0);
                setAngle(0);
              }}
            >
              {swing ? 'Measure again' : 'Measure how far'}
            </Button>
          </div>
        )}
        {swing && least && most && (
          <>
            {swing.ways.length === 1 ? (
              <Facts rows={[['Opens', `${free}°, ${wayWords(most.towards)}`]]} />
            ) : (
              <>
                <Facts
                  rows={[
                    ['Free at least', `${Math.floor(degrees(least.free))}°, ${wayWords(least.towards)}`],
                    ['Free at most', `${Math.floor(degrees(most.free))}°, ${wayWords(most.towards)}`],
                  ]}
                />
                <Pick
                  label="Towards"
                  value={String(way)}
                  options={swing.ways.map((w, i) => ({ value: String(i), label: wayWords(w.towards) }))}
                  onChange={(next) => setWay(Number(next))}
                />
              </>
            )}
            <div className="flex items-center gap-2">
              <Slide
                label="How far it is swung"
                className="grow"
                min={0}
                max={free}
                step={1}
                value={Math.min(angle, free)}
                text={`${Math.min(angle, free)}°`}
                onChange={setAngle}
              />
              <span className="num w-10 text-right">{Math.min(angle, free)}°</span>
            </div>
          </>
        )}
      </div>
    </Part>
  );
}
