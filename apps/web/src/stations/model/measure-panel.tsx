import { degrees, distance, dot, perAxis, planSchema, sub } from '@gephyra/core/plan';
import { useState } from 'react';
import type { ProbeView } from '../../engine/probe.ts';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { useWorkspace } from '../../project/selection.tsx';
import type { Marker } from '../../project/shown.ts';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { NameForm } from '../../ui/name-form.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts, Part } from '../../ui/panels.tsx';

interface Props {
  onShow(markers: readonly Marker[], path: { places: readonly Triple[]; text: string } | null): void;
}

/** The angle at the middle one of three places, degrees. */
export function angleAt([a, b, c]: readonly [Triple, Triple, Triple]): number {
  const l = distance(a, b) * distance(c, b);
  const cosine = l === 0 ? 1 : dot(sub(a, b), sub(c, b)) / l;
  return degrees(Math.acos(Math.max(-1, Math.min(1, cosine))));
}

/** Distance, angle, and the wall at a place; below them the wearer's measures that are kept with the project. */
export function MeasurePanel({ onShow }: Props) {
  const { engine } = useProject();
  const { setPicker } = useWorkspace();
  const [places, setPlaces] = useState<readonly Triple[]>([]);
  const [wall, setWall] = useState<ProbeView | null>(null);
  const take = (wanted: number, soFar: readonly Triple[]): void => {
    setWall(null);
    setPlaces(soFar);
    setPicker({
      prompt: `Pick place ${soFar.length + 1} of ${wanted}.`,
      onPlace: ({ at }) => {
        const next = [...soFar, at];
        setPlaces(next);
        const text = next.length === 2 ? `${distance(next[0], next[1]).toFixed(2)} mm` : '';
        onShow(
          next.map((p) => ({ at: p, radius: 0 })),
          next.length > 1 ? { places: next, text } : null,
        );
        if (next.length < wanted) take(wanted, next);
        else setPicker(null);
      },
    });
  };
  const probe = (): void => {
    setPlaces([]);
    setPicker({
      prompt: 'Pick where the wall is measured.',
      onPlace: ({ at, normal }) => {
        setPicker(null);
        void engine?.probe(at, normal).then((found) => {
          setWall(found);
          const end = perAxis(at, (x, k) => x - normal[k] * (found.wall ?? 0));
          onShow([{ at, radius: 0 }], { places: [at, end], text: `${found.wall?.toFixed(2) ?? '?'} mm` });
        });
      },
    });
  };
  const [a, b, c] = places;
  return (
    <>
      <Part title="Measure">
        <div className="mb-2 flex flex-wrap gap-2">
          <Button onClick={() => take(2, [])}>Distance</Button>
          <Button onClick={() => take(3, [])}>Angle</Button>
          <Button onClick={probe}>Wall at a place</Button>
        </div>
        <div role="status">
          {b && !c && (
            <Facts
              rows={[
                ['Distance', `${distance(a, b).toFixed(2)} mm`],
                ...(['x', 'y', 'z'] as const).map((axis, k): [string, string] => [
                  `along ${axis}`,
                  `${Math.abs(a[k] - b[k]).toFixed(2)} mm`,
                ]),
              ]}
            />
          )}
          {c && <Facts rows={[['Angle at the second', `${angleAt([a, b, c]).toFixed(1)}°`]]} />}
          {wall && (
            <Facts
              rows={[
                ['Wall', wall.wall === null ? 'open behind' : `${wall.wall.toFixed(2)} mm`],
                ['Free in front', wall.room === null ? 'open' : `${wall.room.toFixed(2)} mm`],
              ]}
            />
          )}
        </div>
      </Part>
      <Measures />
    </>
  );
}

/** The measured and the wanted, by name. */
function Measures() {
  const { plan, change } = useProject();
  const set = (label: string, next: (now: typeof plan.measures) => typeof plan.measures) =>
    change(label, (now) => ({ do: 'set', set: { measures: next(now.measures) } }));
  return (
    <Part title="The wearer" note="wanted, mm">
      {plan.measures.length === 0 && (
        <p className="mb-2 text-ink-soft">No measure yet. Those used for a fit are kept here.</p>
      )}
      <ul className="flex flex-col gap-1.5" aria-label="Measures of the wearer">
        {plan.measures.map((m) => (
          <li key={m.name} className="flex items-end gap-2">
            <NumberField
              label={m.measured === undefined ? m.name : `${m.name} (model had ${m.measured.toFixed(1)})`}
              value={m.wanted ?? 0}
              digits={1}
              {...bounded(planSchema.shape.measures.unwrap().element.shape.wanted)}
              onCommit={(wanted) =>
                set(`${m.name} ${wanted} mm`, (now) => now.map((x) => (x.name === m.name ? { ...x, wanted } : x)))
              }
            />
            <Button
              look="quiet"
              className="px-1.5 text-stop"
              aria-label={`Delete ${m.name}`}
              onClick={() => set(`Delete ${m.name}`, (now) => now.filter((x) => x.name !== m.name))}
            >
              delete
            </Button>
          </li>
        ))}
      </ul>
      <NameForm
        className="mt-2"
        label="New measure"
        take="Add"
        placeholder="e.g. Forearm girth"
        taken={plan.measures.map((m) => m.name)}
        onName={(name) => set(`Add ${name}`, (now) => [...now, { name }])}
      />
    </Part>
  );
}
