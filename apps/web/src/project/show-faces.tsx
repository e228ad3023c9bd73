import {
  CREASE,
  degrees,
  determinant,
  distance,
  inverse,
  MOST_MARKS,
  mapPoint,
  radians,
  type ShowMark,
} from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { NumberField } from '../ui/number-field.tsx';
import { Part } from '../ui/panels.tsx';
import { useProject } from './project.tsx';
import { type PickedPlace, useWorkspace } from './selection.tsx';

type By = 'face' | 'brush';

const BY: readonly { value: By; label: string }[] = [
  { value: 'face', label: 'whole face' },
  { value: 'brush', label: 'brush' },
];

/** Marks faces that are to be seen: a face up to its creases, or with a brush; and takes them off again. */
export function ShowFaces() {
  const { plan, view, change } = useProject();
  const { picker, setPicker } = useWorkspace();
  const [by, setBy] = useState<By>('face');
  const [crease, setCrease] = useState(Math.round(degrees(CREASE)));
  const [radius, setRadius] = useState(10);
  const [marking, setMarking] = useState<'on' | 'off' | null>(null);
  const map = view?.map;
  const marked = view?.show.reduce((sum, s) => sum + s.area, 0) ?? 0;

  useEffect(() => {
    if (!marking || !map) return;
    const back = inverse(map);
    const off = marking === 'off';
    const mark = ({ at }: PickedPlace): ShowMark => ({
      at: [...mapPoint(back, at)],
      angle: by === 'face' ? radians(crease) : Math.PI,
      ...(by === 'brush' && { radius: radius / Math.cbrt(Math.abs(determinant(map))) }),
      off,
    });
    const take = (places: readonly PickedPlace[]): void => {
      change(off ? 'Take show faces off' : 'Mark show faces', {
        do: 'addShow',
        marks: thinned(places, radius, by).map(mark),
      });
    };
    const what = by === 'face' ? 'a face' : 'a place, or drag over it,';
    const prompt = `Pick ${what} to ${off ? 'take it off' : 'mark it'}.`;
    setPicker(
      by === 'face' ? { prompt, onPlace: (place) => take([place]) } : { prompt, stroke: { radius, onStroke: take } },
    );
  }, [marking, by, crease, radius, map, change, setPicker]);
  // stopped by Escape, or by another tool
  useEffect(() => {
    if (picker === null) setMarking(null);
  }, [picker]);
  useEffect(() => () => setPicker(null), [setPicker]);

  const full = plan.show.length > MOST_MARKS - 60;
  const start = (way: 'on' | 'off'): void => {
    if (marking === way) setPicker(null);
    else setMarking(way);
  };
  return (
    <Part title="Show faces" note={marked > 0 ? `${(marked / 100).toFixed(1)} cm² marked` : 'none yet'}>
      <p className="mb-2 text-ink-soft">
        Faces that are to be seen. Poses keep supports off them, and a seam is told how far it runs over them.
      </p>
      <div className="flex flex-col gap-2.5">
        <Choice label="Marked by" value={by} options={BY} onChange={(next: By) => setBy(next)} />
        {by === 'face' ? (
          <NumberField
            label="Ends at creases of"
            unit="°"
            min={1}
            max={180}
            step={5}
            value={crease}
            onCommit={setCrease}
          />
        ) : (
          <NumberField
            label="Radius of the brush"
            unit="mm"
            min={0.5}
            max={500}
            step={1}
            value={radius}
            onCommit={setRadius}
          />
        )}
        <div className="flex flex-wrap gap-2">
          <Button
            look={marking === 'on' ? 'main' : 'plain'}
            aria-pressed={marking === 'on'}
            disabled={!view || full}
            onClick={() => start('on')}
          >
            Mark faces
          </Button>
          <Button
            look={marking === 'off' ? 'main' : 'plain'}
            aria-pressed={marking === 'off'}
            disabled={marked === 0 || full}
            onClick={() => start('off')}
          >
            Take off
          </Button>
          <Button
            look="quiet"
            disabled={plan.show.length === 0}
            onClick={() => change('Unmark all show faces', { do: 'set', set: { show: [] } })}
          >
            Unmark all
          </Button>
        </div>
        {full && (
          <p role="status" className="text-ink-soft">
            There are {plan.show.length} marks, and {MOST_MARKS} are kept. Unmark all, and mark with whole faces or a
            larger brush.
          </p>
        )}
      </div>
    </Part>
  );
}

/** Of a stroke's places those that are half a brush apart: nearer ones mark the same. */
export function thinned(places: readonly PickedPlace[], radius: number, by: By): PickedPlace[] {
  if (by === 'face') return [...places];
  const kept: PickedPlace[] = [];
  for (const place of places) {
    if (kept.every((k) => distance(k.at, place.at) > radius / 2)) kept.push(place);
  }
  return kept;
}
