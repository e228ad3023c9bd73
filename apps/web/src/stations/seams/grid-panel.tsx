import { freeId, type GridPlan, IDENTITY, type SeamInput } from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import type { BoxView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { axisName, seamAcross, seamInPlan } from '../../project/seam-math.ts';
import { useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { Tick } from '../../ui/tick.tsx';
import { Working } from '../../ui/working.tsx';

/** The fewest seams across the axes after which everything fits: wished for here, and then ordinary seams. */
export function GridPanel({ onShow, onDone }: { onShow: (quads: Float32Array | null) => void; onDone: () => void }) {
  const { plan, view, change } = useProject();
  const { searching, search } = useSearch();
  const [axes, setAxes] = useState<readonly number[]>([0, 1, 2]);
  const [spacing, setSpacing] = useState<'even' | 'necks'>('even');
  const [jointRoom, setJointRoom] = useState(8);
  const [replace, setReplace] = useState(true);
  const [found, setFound] = useState<GridPlan | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const wish = JSON.stringify([axes, spacing, jointRoom, plan.printer, plan.zones, view?.map]);
  const ready = view !== null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the wish holds all that the answer depends on
  useEffect(() => {
    if (!ready) return;
    setFound(null);
    setWrong(null);
    search('Trying how few will do', (engine, tell) => engine.grid(plan, { axes, spacing, jointRoom }, tell)).then(
      (grid) => grid && setFound(grid),
      (error: Error) => setWrong(error.message),
    );
  }, [ready, search, wish]);
  const box = view?.box;
  useEffect(() => {
    onShow(found && box ? planesOf(found, box) : null);
    return () => onShow(null);
  }, [found, box, onShow]);
  const apply = (): void => {
    if (!found || !view) return;
    const seams: SeamInput[] = [];
    found.planes.forEach((places, axis) => {
      for (const at of places) {
        const id = freeId('s', [...plan.seams, ...(seams as { id: string }[])]);
        const { up: _, ...seam } = seamAcross(id, axis, at, view.box);
        seams.push({ ...seam, ...seamInPlan(seam, view.map ?? IDENTITY) });
      }
    });
    change(
      `Place a grid of ${seams.length} seams`,
      ...(replace ? plan.seams.map((s) => ({ do: 'removeSeam' as const, id: s.id })) : []),
      { do: 'addSeams', seams },
    );
    onDone();
  };
  return (
    <Part title="Grid of seams" note="as few as will do">
      <div className="flex flex-col gap-3">
        <fieldset className="flex gap-4">
          <legend className="mb-0.5 text-ink-soft text-sm">Across</legend>
          {[0, 1, 2].map((a) => (
            <Tick
              key={a}
              tone="cut"
              checked={axes.includes(a)}
              label={`Seams across ${axisName(a)}`}
              onChange={(on) => setAxes(on ? [...axes, a].sort() : axes.filter((x) => x !== a))}
            >
              {axisName(a)}
            </Tick>
          ))}
        </fieldset>
        <Choice
          label="Spacing"
          value={spacing}
          options={[
            { value: 'even', label: 'by size' },
            { value: 'necks', label: 'at necks' },
          ]}
          onChange={(x) => setSpacing(x)}
        />
        <NumberField
          label="Room for joints on each cut face"
          min={0}
          max={100}
          value={jointRoom}
          onCommit={setJointRoom}
        />
        {plan.seams.length > 0 && (
          <Tick tone="cut" checked={replace} onChange={setReplace}>
            instead of the {plan.seams.length === 1 ? 'seam' : `${plan.seams.length} seams`} there are
          </Tick>
        )}
        <div role="status">
          {wrong ? (
            <p className="text-stop">{wrong}</p>
          ) : found ? (
            <Facts
              rows={[
                ['Seams', String(found.count)],
                ['The box alone would need', String(found.byBox)],
                ...found.planes.flatMap((p, a) =>
                  p.length > 0 ? [[`Across ${axisName(a)}`, p.map((x) => x.toFixed(1)).join(', ')] as const] : [],
                ),
              ]}
            />
          ) : (
            !searching && (
              <p className="text-ink-soft">The search was ended. It begins again when something is changed above.</p>
            )
          )}
          {found && found.over > 0 && (
            <p className="mt-1 text-stop">{found.over} cells would still be too big. Let it cut across more axes.</p>
          )}
          {found && found.count === 0 && <p className="mt-1 text-good">Everything fits already.</p>}
        </div>
        {searching && <Working label="Search for a grid" working={searching} />}
        <div className="flex gap-2">
          <Button look="main" disabled={!found || found.count === 0 || found.over > 0} onClick={apply}>
            Place {found?.count ?? ''} seams
          </Button>
          <Button onClick={onDone}>Leave it</Button>
        </div>
      </div>
    </Part>
  );
}

/** The planes of a grid as quads over the model's box. */
function planesOf({ planes }: GridPlan, { min, max }: BoxView): Float32Array {
  const out: number[] = [];
  planes.forEach((places, axis) => {
    const [a, b] = [0, 1, 2].filter((k) => k !== axis);
    for (const at of places) {
      for (const [p, q] of [
        [min[a], min[b]],
        [max[a], min[b]],
        [max[a], max[b]],
        [min[a], max[b]],
      ]) {
        const corner = [0, 0, 0];
        corner[axis] = at;
        corner[a] = p;
        corner[b] = q;
        out.push(...corner);
      }
    }
  });
  return Float32Array.from(out);
}
