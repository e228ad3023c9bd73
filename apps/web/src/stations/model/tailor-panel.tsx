import { inverse, mapNormal, mapPoint, type StepInput, stepSchemaOf, type TakenMeasure } from '@gephyra/core/plan';
import { useEffect, useMemo, useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { type PickedPlace, useSelection, useWorkspace } from '../../project/selection.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { tidy } from './steps.ts';

const MEASURES = [
  'Head girth',
  'Head length',
  'Neck girth',
  'Shoulder width',
  'Chest girth',
  'Forearm girth',
  'Hand girth',
  'Own measure',
];

interface Props {
  /** tells the view what is being measured: places on the model as shown */
  onShow(path: { places: PickedPlace['at'][]; text: string } | null, height: number | null): void;
}

/** Fit to a wearer: a measure of the model, the wearer's, the room between, and the size that follows. */
export function TailorPanel({ onShow }: Props) {
  const { plan, view, engine, change, busy } = useProject();
  const { setPicker } = useWorkspace();
  const [{ body }] = useSelection();
  const [kind, setKind] = useState<'girth' | 'points'>('girth');
  const [share, setShare] = useState(0.5);
  const [side, setSide] = useState<'outer' | 'inner'>('outer');
  const [points, setPoints] = useState<readonly PickedPlace['at'][]>([]);
  const [name, setName] = useState(MEASURES[0]);
  const [wanted, setWanted] = useState(580);
  const [room, setRoom] = useState(20);
  const [length, setLength] = useState<number | null>(null);
  const box = view?.box;
  const height = box ? box.min[2] + share * (box.max[2] - box.min[2]) : 0;

  const measure = useMemo((): TakenMeasure | null => {
    if (!view) return null;
    const back = inverse(view.map);
    if (kind === 'points') {
      if (points.length < 2) return null;
      return { points: [tidy(mapPoint(back, points[0])), tidy(mapPoint(back, points[1]))] };
    }
    const { min, max } = view.box;
    const at = mapPoint(back, [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, height]);
    return { girth: tidy(at), along: tidy(mapNormal(back, [0, 0, 1])), side, ...(body && { body }) };
  }, [view, kind, points, height, side, body]);

  useEffect(() => {
    if (!engine || !measure || busy) {
      if (!measure) setLength(null);
      return;
    }
    let alive = true;
    engine.measure(measure).then(
      (x) => alive && setLength(x),
      () => alive && setLength(null),
    );
    return () => {
      alive = false;
    };
  }, [engine, measure, busy]);

  useEffect(() => {
    if (kind === 'girth') onShow(null, height);
    else onShow(points.length > 1 ? { places: [...points], text: `${length?.toFixed(1) ?? ''} mm` } : null, null);
    return () => onShow(null, null);
  }, [kind, height, points, length, onShow]);

  const pick = (soFar: readonly PickedPlace['at'][]): void => {
    setPicker({
      prompt: soFar.length === 0 ? 'Pick where the measure begins.' : 'Pick where it ends.',
      onPlace: ({ at }) => {
        const next = [...soFar, at];
        setPoints(next);
        if (next.length < 2) pick(next);
        else setPicker(null);
      },
    });
  };
  const factor = length && length > 0 ? (wanted + room) / length : null;
  const nothing = kind === 'girth' && side === 'inner' ? 'not closed round there' : 'no surface there';
  const apply = (): void => {
    if (!measure || !factor || length === null) return;
    const step: StepInput = { kind: 'tailor', name, measure, wanted, room };
    const taken = { name, wanted, measured: Number(length.toFixed(2)) };
    change(`Fit ${name}`, { do: 'addStep', step }, (now) => ({
      do: 'set',
      set: { measures: [...now.measures.filter((m) => m.name !== name), taken] },
    }));
  };
  return (
    <div className="flex flex-col gap-2">
      <Choice
        label="Measure on the model"
        value={kind}
        options={[
          { value: 'girth', label: 'girth' },
          { value: 'points', label: 'two points' },
        ]}
        onChange={(x) => setKind(x)}
      />
      {kind === 'girth' ? (
        <>
          <NumberField
            label="At height"
            value={box ? height - box.min[2] : 0}
            digits={1}
            min={0}
            max={box ? box.max[2] - box.min[2] : 0}
            onCommit={(z) => box && setShare(z / (box.max[2] - box.min[2]))}
          />
          <Choice
            label="Side of the section"
            value={side}
            options={[
              { value: 'outer', label: 'outside' },
              { value: 'inner', label: 'inside, as worn' },
            ]}
            onChange={(x) => setSide(x)}
          />
        </>
      ) : (
        <Button onClick={() => pick([])}>{points.length < 2 ? 'Pick two points' : 'Pick two other points'}</Button>
      )}
      <Pick
        label="Of the wearer"
        value={MEASURES.includes(name) ? name : 'Own measure'}
        options={MEASURES.map((m) => ({ value: m, label: m }))}
        onChange={(chosen) => {
          setName(chosen);
          const known = plan.measures.find((m) => m.name === chosen);
          if (known?.wanted !== undefined) setWanted(known.wanted);
        }}
      />
      {!MEASURES.slice(0, -1).includes(name) && (
        <label className="block">
          <span className="mb-0.5 block text-ink-soft text-sm">Own name</span>
          <input
            className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-2"
            value={name}
            maxLength={120}
            onChange={(e) => setName(e.target.value || 'Own measure')}
          />
        </label>
      )}
      <div className="grid grid-cols-2 gap-2">
        <NumberField
          label="Wearer measures"
          value={wanted}
          digits={1}
          {...bounded(stepSchemaOf('tailor').shape.wanted)}
          onCommit={setWanted}
        />
        <NumberField
          label="Room or padding"
          value={room}
          digits={1}
          {...bounded(stepSchemaOf('tailor').shape.room)}
          onCommit={setRoom}
        />
      </div>
      <Facts
        rows={[
          ['On the model', length === null ? 'not measured' : length === 0 ? nothing : `${length.toFixed(1)} mm`],
          ['Factor that follows', factor ? `× ${factor.toFixed(4)}` : 'none'],
        ]}
      />
      <p className={passes(length, wanted) ? 'text-good' : 'text-stop'} role="status">
        {length ? passing(length, wanted) : ''}
      </p>
      <Button look="main" disabled={!factor} onClick={apply}>
        Scale to fit
      </Button>
    </div>
  );
}

const passes = (opening: number | null, girth: number): boolean => opening !== null && opening >= girth;

/** Whether the wearer passes an opening of this girth as the model is now. */
function passing(opening: number, girth: number): string {
  const spare = opening - girth;
  const girthText = `${Number(girth.toFixed(1))} mm`;
  if (spare >= 0) return `As it is, ${girthText} passes with ${spare.toFixed(1)} mm to spare.`;
  return `As it is, ${girthText} does not pass: ${(-spare).toFixed(1)} mm are missing.`;
}
