import { inverse, mapNormal, mapPoint, radians, type StepInput, withIds } from '@gephyra/core/plan';
import { useState } from 'react';
import type { MirrorView, PickView } from '../../engine/probe.ts';
import { useProject } from '../../project/project.tsx';
import { useWorkspace } from '../../project/selection.tsx';
import { useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Tick } from '../../ui/tick.tsx';
import { useToasts } from '../../ui/toasts.tsx';
import { Working } from '../../ui/working.tsx';
import { tidy } from './steps.ts';

const AXES = ['x', 'y', 'z'] as const;
type Axis = (typeof AXES)[number];
const axisOptions = AXES.map((value) => ({ value, label: value }));
const UNIT = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;

/** Turning, laying down, placing and mirroring. */
export function PosePanel() {
  const { plan, view, change } = useProject();
  const { searching, search } = useSearch();
  const { setPicker } = useWorkspace();
  const toasts = useToasts();
  const [axis, setAxis] = useState<Axis>('z');
  const [angle, setAngle] = useState(90);
  const [mirrorAxis, setMirrorAxis] = useState<Axis>('x');
  const [copy, setCopy] = useState(false);
  const [found, setFound] = useState<MirrorView | null | 'none'>(null);
  if (!view) return null;
  const back = inverse(view.map);
  const add = (label: string, step: StepInput) => change(label, { do: 'addStep', step });
  /** Turning on about the same axis changes the last step instead of adding one. */
  const turn = (by: number): void => {
    const last = withIds(plan).recipe.at(-1);
    const label = `Turn ${by}° about ${axis}`;
    if (last?.kind === 'turn' && last.axis === axis && last.enabled) {
      change(label, { do: 'setStep', id: last.id, set: { angle: last.angle + radians(by) } });
    } else add(label, { kind: 'turn', axis, angle: radians(by) });
  };
  const lay = (): void =>
    setPicker({
      prompt: 'Pick the face that shall lie below.',
      onPlace: ({ normal }) => {
        setPicker(null);
        change(
          'Lay on a face',
          { do: 'addStep', step: { kind: 'lay', normal: tidy(mapNormal(back, normal)) } },
          { do: 'addStep', step: { kind: 'place', to: 'floor' } },
        );
      },
    });
  const bring = (): void =>
    setPicker({
      prompt: 'Pick the face of the body that moves.',
      onPlace: (from) =>
        setPicker({
          prompt: `Pick the face that ${nameOf(from.body)} goes against, on another body.`,
          onPlace: (to) => {
            setPicker(null);
            if (to.body === from.body) {
              toasts.say({ text: 'Both faces are on the same body. Pick one on each.', tone: 'warn' });
              return;
            }
            add(`Bring ${nameOf(from.body)} to ${nameOf(to.body)}`, {
              kind: 'bring',
              body: from.body,
              from: faceAt(from),
              to: faceAt(to),
            });
          },
        }),
    });
  const faceAt = ({ at, normal }: PickView) => ({
    at: tidy(mapPoint(back, at)),
    normal: [...mapNormal(back, normal)] as [number, number, number],
  });
  const nameOf = (id: string): string => view.bodies.find((b) => b.id === id)?.name ?? id;
  const middle = view.box.min.map((x, a) => (x + view.box.max[a]) / 2) as [number, number, number];
  const mirrorAt = (at: readonly [number, number, number], normal: readonly [number, number, number], label: string) =>
    add(label, { kind: 'mirror', at: tidy(mapPoint(back, at)), normal: tidy(mapNormal(back, normal)), copy });
  const find = async (): Promise<void> => {
    setFound(null);
    setFound(
      await search('Looking for the mirror plane', async (engine, tell) => (await engine.mirror(plan, tell)) ?? 'none'),
    );
  };
  return (
    <>
      <Part title="Turn">
        <div className="flex flex-col gap-2">
          <Choice label="About" value={axis} options={axisOptions} onChange={(x) => setAxis(x)} />
          <div className="flex items-end gap-2">
            <NumberField label="Angle" unit="°" step={5} value={angle} min={-360} max={360} onCommit={setAngle} />
            <Button onClick={() => turn(angle)}>Turn</Button>
          </div>
          <div className="flex gap-1" role="group" aria-label="Turn in steps">
            {[-90, -15, -5, 5, 15, 90].map((d) => (
              <Button key={d} className="num grow px-1" aria-label={`Turn by ${d}°`} onClick={() => turn(d)}>
                {d > 0 ? `+${d}` : d}
              </Button>
            ))}
          </div>
        </div>
      </Part>
      <Part title="Place">
        <div className="flex flex-wrap gap-2">
          <Button onClick={lay}>Lay on a picked face</Button>
          <Button onClick={() => add('To the centre', { kind: 'place', to: 'centre' })}>Centre</Button>
          <Button onClick={() => add('Onto the floor', { kind: 'place', to: 'floor' })}>On the floor</Button>
          {view.bodies.length > 1 && <Button onClick={bring}>Bring two bodies together</Button>}
        </div>
      </Part>
      <Part title="Mirror">
        <div className="flex flex-col gap-2">
          <Choice label="Across" value={mirrorAxis} options={axisOptions} onChange={(x) => setMirrorAxis(x)} />
          <Tick tone="ink" checked={copy} onChange={setCopy}>
            as a copy beside the original
          </Tick>
          <Button
            onClick={() =>
              mirrorAt(copy ? beside(view.box, mirrorAxis) : middle, UNIT[mirrorAxis], `Mirror across ${mirrorAxis}`)
            }
          >
            {copy ? 'Make the mirrored copy' : 'Mirror'}
          </Button>
          {searching ? (
            <Working label="Search for the mirror plane" working={searching} />
          ) : (
            <Button onClick={() => void find()}>Find the mirror plane</Button>
          )}
          {found === 'none' && <p>The model is its own mirror image in no plane.</p>}
          {found !== null && typeof found === 'object' && (
            <p role="status">
              Mirrored at the plane square to{' '}
              <span className="num">({found.normal.map((x) => x.toFixed(3)).join(', ')})</span> the model meets itself
              within <span className="num">{found.mean.toFixed(2)} mm</span> on the average,{' '}
              <span className="num">{found.worst.toFixed(2)} mm</span> at worst.
            </p>
          )}
        </div>
      </Part>
    </>
  );
}

/** A plane just beyond the model, so that a copy stands beside it. */
function beside(box: { min: readonly number[]; max: readonly number[] }, axis: Axis): [number, number, number] {
  const a = AXES.indexOf(axis);
  const at = box.min.map((x, k) => (x + box.max[k]) / 2) as [number, number, number];
  at[a] = box.max[a] + (box.max[a] - box.min[a]) * 0.05;
  return at;
}
