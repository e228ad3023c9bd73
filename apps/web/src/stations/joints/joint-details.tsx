import {
  ampleWall,
  converted,
  FITS,
  IDENTITY,
  inverse,
  type Joint,
  type JointFields,
  jointGap,
  kindOf,
  mapVector,
  wallLimits,
} from '@gephyra/core';
import { Trash2 } from 'lucide-react';
import type { FaceView, JointView, Triple } from '../../engine/types.ts';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { KINDS } from './kinds.ts';
import { Presets } from './presets.tsx';
import { SizeFields } from './size-fields.tsx';
import { usePlaces } from './use-place.ts';

/** Everything about the selected joint: what is wrong, what was measured, its kind, sizes, fit and place. */
export function JointDetails({
  joint,
  placed,
  face,
  live,
}: {
  joint: Joint;
  placed: JointView | null;
  face: FaceView | null;
  /** measured where it is being dragged to */
  live: JointView | null;
}) {
  const { plan, view, change } = useProject();
  const place = usePlaces()(joint);
  const [u, v] = place.toModel(joint.at);
  const kind = kindOf(joint);
  const name = kind.name;
  const set = (label: string, next: JointFields) =>
    change(`${label} of ${name} ${joint.id}`, { do: 'setJoint', id: joint.id, set: next });
  const codes = face?.pieces.map((key) => view?.pieces.find((p) => p.key === key)?.code ?? '?') ?? ['−', '+'];
  const { warn } = wallLimits(plan.printer);
  const findings = view?.findings.filter((f) => f.where.joint === joint.id) ?? [];
  const shown = live ?? placed;
  const gap = jointGap(joint, plan.printer);
  const number = (x: number | null | undefined): string =>
    x === null || x === undefined ? 'none' : x >= ample ? `over ${ample} mm` : `${x.toFixed(2)} mm`;
  const [own, other] = joint.male === '-' ? [codes[0], codes[1]] : [codes[1], codes[0]];
  const thinRod = kind.thinned(joint);
  const width = kind.sizeOf(joint);
  const lap = kind.follows === 'wall';
  const ample = ampleWall(plan.printer);
  return (
    <>
      <Part
        title={`${name[0].toUpperCase()}${name.slice(1)} ${joint.id}`}
        note={
          <button
            type="button"
            className="flex items-center gap-1 text-stop underline-offset-2 hover:underline"
            onClick={() => change(`Delete ${name} ${joint.id}`, { do: 'removeJoint', id: joint.id })}
          >
            <Trash2 size={13} aria-hidden /> delete
          </button>
        }
      >
        <div className="flex flex-col gap-2">
          <Findings list={findings} />
          <div className="flex items-end gap-2">
            <Pick
              label="Kind"
              value={joint.kind}
              options={KINDS}
              onChange={(kind) =>
                change(`Make ${joint.id} a ${kindOf({ kind }).name}`, { do: 'putJoint', joint: converted(joint, kind) })
              }
            />
            <Presets joint={joint} />
          </div>
        </div>
      </Part>
      <Part title="Fit" note={plan.printer.material ?? 'usual plastic'}>
        <Choice
          label="Gap per side"
          value={joint.gap === undefined ? joint.fit : 'own'}
          options={[...FITS.map((f) => ({ value: f as string, label: f })), { value: 'own', label: 'own' }]}
          onChange={(fit) =>
            fit === 'own' ? set('Own gap', { gap }) : set(`Fit ${fit}`, { fit: fit as Joint['fit'], gap: undefined })
          }
        />
        <div className="mt-2 grid grid-cols-2 gap-2">
          {joint.gap === undefined ? (
            <div>
              <p className="mb-0.5 text-ink-soft text-sm">Gap per side</p>
              <p className="num h-[30px] leading-[30px]">{gap.toFixed(2)} mm</p>
            </div>
          ) : (
            <NumberField
              label="Own gap per side"
              value={joint.gap}
              min={0}
              max={3}
              step={0.05}
              onCommit={(x) => set('Gap', { gap: x })}
            />
          )}
          <NumberField
            label="Depth gap"
            value={joint.depthGap}
            min={0}
            max={10}
            step={0.1}
            onCommit={(depthGap) => set('Depth gap', { depthGap })}
          />
        </div>
        <p className="num mt-1.5 text-[13px]">
          {kind.male} {(thinRod ? width - 2 * gap : width).toFixed(2)}, {lap ? 'rebate' : 'socket'}{' '}
          {(thinRod ? width : width + (lap ? gap : 2 * gap)).toFixed(2)} mm
        </p>
      </Part>
      <Part title="Measured" note={live ? 'as it moves' : `walls should be ${warn.toFixed(2)} mm`}>
        <Facts
          rows={[
            ['To the edge', number(shown?.edge)],
            ...(shown?.walls ?? [])
              .map((w, i) => [`Wall in ${i === 0 ? own : other}`, number(w)] as const)
              .filter((_, i) => shown?.walls[i] !== null),
            ...(shown?.root === null || shown?.root === undefined
              ? []
              : [[`Under its foot in ${own}`, number(shown.root)] as const]),
            ['To the next joint', number(shown?.apart)],
            ['Shears at', shown ? `${shown.shear.toFixed(0)} mm²` : 'none'],
            ...kind.numbers(joint, gap, plan.printer),
          ]}
        />
      </Part>
      <Part title="Shape">
        <SizeFields joint={joint} codes={codes} set={set} />
      </Part>
      <Part title="Place">
        <div className="grid grid-cols-2 gap-2">
          <NumberField label="At u" value={u} onCommit={(x) => set('Place', { at: place.toSource([x, v]) })} />
          <NumberField label="At v" value={v} onCommit={(x) => set('Place', { at: place.toSource([u, x]) })} />
          {!lap && (
            <>
              <NumberField
                label="Turn"
                unit="°"
                value={(joint.turn * 180) / Math.PI}
                step={5}
                onCommit={(turn) => set('Turn', { turn: (turn * Math.PI) / 180 })}
              />
              <NumberField
                label="Mouth chamfer"
                value={joint.mouth}
                min={0}
                max={5}
                step={0.1}
                onCommit={(mouth) => set('Mouth', { mouth })}
              />
            </>
          )}
        </div>
        <div className="mt-2 flex flex-col gap-2">
          {!lap && <Lean joint={joint} face={face} set={set} />}
          <Choice
            label={kind.stands ? 'Stands out of' : 'Counted from'}
            value={joint.male}
            options={[
              { value: '-', label: codes[0] },
              { value: '+', label: codes[1] },
            ]}
            onChange={(male) => set('Side', { male })}
          />
        </div>
      </Part>
    </>
  );
}

/** Square to the face, or leaning to a direction that other joints share. */
function Lean({
  joint,
  face,
  set,
}: {
  joint: Joint;
  face: FaceView | null;
  set: (label: string, next: JointFields) => void;
}) {
  const { view } = useProject();
  const way = view?.ways.find((w) => face && w.faces.includes(face.id))?.out ?? null;
  const ways: Record<string, Triple> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1], ...(way && { way }) };
  const map = view?.map ?? IDENTITY;
  const toSource = (d: Triple): [number, number, number] =>
    mapVector(inverse(map), d).map((x) => Number(x.toFixed(9))) as [number, number, number];
  const same = (d: Triple): boolean => {
    if (!joint.lean) return false;
    const s = toSource(d);
    return (
      Math.abs(s.reduce((sum, x, a) => sum + x * joint.lean![a], 0)) >
      0.99999 * Math.hypot(...s) * Math.hypot(...joint.lean)
    );
  };
  const now = joint.lean ? (Object.keys(ways).find((k) => same(ways[k])) ?? 'own') : 'square';
  return (
    <Pick
      label="Axis"
      value={now}
      options={[
        { value: 'square', label: 'square to the face' },
        ...(way ? [{ value: 'way', label: 'along the way in' }] : []),
        { value: 'x', label: 'along x' },
        { value: 'y', label: 'along y' },
        { value: 'z', label: 'along z' },
        ...(now === 'own' ? [{ value: 'own', label: 'as it is' }] : []),
      ]}
      onChange={(to) => {
        if (to === 'square') set('Axis', { lean: undefined });
        else if (ways[to]) set('Axis', { lean: toSource(ways[to]) });
      }}
    />
  );
}
