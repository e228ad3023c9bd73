import {
  type Affine,
  freeId,
  IDENTITY,
  type Joint,
  type JointInput,
  type Plan,
  partPlace,
  type SeamPlace,
  seamPlace,
  wallLimits,
} from '@gephyra/core';
import { Trash2 } from 'lucide-react';
import { useEffect, useMemo, useRef } from 'react';
import type { FaceView, JointView } from '../engine/types.ts';
import { useProject } from '../plan/project.tsx';
import { useSelection, useStationView, useWorkspace } from '../shell/workspace-state.tsx';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { Findings } from '../ui/findings.tsx';
import { NumberField } from '../ui/number-field.tsx';
import { MatingFaceView } from './face-view.tsx';
import { Facts, Ledger, Part, Side } from './panels.tsx';
import { seamTitle } from './seams/seam-math.ts';

/** Joints: mating faces and what is on them, the face drawn flat, the numbers. */
export default function JointsStation() {
  const { plan, view, change } = useProject();
  const [{ joint: jointId, face: faceId }, select] = useSelection();
  const chooseJoint = (joint: string): void => select({ joint });
  const faces = view?.faces ?? [];
  const placed = view?.joints.find((j) => j.id === jointId) ?? null;
  const face = faces.find((f) => f.id === (placed?.face ?? faceId)) ?? faces[0] ?? null;
  const joint = plan.joints.find((j) => j.id === jointId) ?? null;
  const placeOf = (face: FaceView) => placeOn(plan.seams, face.seam, face.part, view?.map ?? IDENTITY);
  useStationView(useMemo(() => ({ highlightFace: face }), [face]));
  // mating faces are hidden while the pieces are together
  const { apart, setApart } = useWorkspace();
  const opened = useRef(false);
  useEffect(() => {
    if (!opened.current && apart === 0 && faces.length > 0) setApart(48);
    opened.current ||= faces.length > 0;
  }, [apart, setApart, faces.length]);
  const here = view?.joints.filter((j) => face && j.face === face.id) ?? [];
  const troubled = new Set(
    view?.findings.filter((f) => f.where.joint && f.severity !== 'note').map((f) => f.where.joint!),
  );
  const adrift = view?.joints.filter((j) => j.face === null) ?? [];

  const add = (target: FaceView, u: number, v: number): void => {
    const id = freeId('j', plan.joints);
    const last = plan.joints.filter((j) => j.seam === target.seam).at(-1) ?? plan.joints.at(-1);
    const { warn } = wallLimits(plan.printer);
    const roomy = Math.max(2, Math.min(8, Math.floor((target.pole.distance - warn - 0.2) * 1.6 * 2) / 2));
    const at = placeOf(target).toSource([u, v]);
    const { part: _, ...like } = last ?? { kind: 'pin' as const, diameter: roomy, depth: roomy };
    const part = target.part === undefined ? {} : { part: target.part };
    const pin: JointInput = { ...like, ...part, id, seam: target.seam, at };
    change(`Add pin ${id}`, { do: 'addJoint', joint: pin });
    chooseJoint(id);
  };

  return (
    <>
      <Ledger
        title="Joints"
        action={
          <Button look="main" disabled={!face} onClick={() => face && add(face, ...freePlace(face, here))}>
            Add a pin
          </Button>
        }
      >
        {faces.length === 0 && (
          <p className="text-ink-soft">
            No mating face yet. Where a seam parts the model, the two sides show here, ready for pins.
          </p>
        )}
        <ul className="flex flex-col">
          {faces.map((f) => (
            <FaceRow
              key={f.id}
              face={f}
              open={f.id === face?.id}
              selected={jointId}
              troubled={troubled}
              onFace={() => select({ face: f.id, joint: null })}
              onJoint={chooseJoint}
            />
          ))}
        </ul>
        {adrift.length > 0 && (
          <>
            <h2 className="mt-4 mb-1 text-base">Off every face</h2>
            <ul>
              {adrift.map((j) => (
                <li key={j.id}>
                  <JointRow joint={j} selected={j.id === jointId} troubled onSelect={() => chooseJoint(j.id)} />
                </li>
              ))}
            </ul>
          </>
        )}
      </Ledger>
      <Side>
        {face ? (
          <Part
            title="Mating face"
            note={`${(face.area / 100).toFixed(1)} cm², room ${face.pole.distance.toFixed(1)} mm`}
          >
            <MatingFaceView
              key={face.id}
              face={face}
              joints={here}
              selected={jointId}
              troubled={troubled}
              onSelect={chooseJoint}
              onPlace={(u, v) => add(face, u, v)}
              onMove={(id, u, v) =>
                change(`Move pin ${id}`, { do: 'setJoint', id, set: { at: placeOf(face).toSource([u, v]) } })
              }
            />
            <p className="mt-1 text-ink-soft text-sm">
              Click the face to place a pin; drag it, or nudge it with the arrow keys.
            </p>
          </Part>
        ) : (
          <Part title="Mating face">
            <p className="text-ink-soft">Place a seam first, and its faces can be joined here.</p>
          </Part>
        )}
        {joint ? (
          <JointDetails joint={joint} placed={placed} face={face} />
        ) : (
          face && (
            <Part title="Findings">
              <Findings
                list={view?.findings.filter((f) => f.where.face === face.id) ?? []}
                empty="Nothing to mend on this face."
              />
            </Part>
          )
        )}
      </Side>
    </>
  );
}

function FaceRow({
  face,
  open,
  selected,
  troubled,
  onFace,
  onJoint,
}: {
  face: FaceView;
  open: boolean;
  selected: string | null;
  troubled: ReadonlySet<string>;
  onFace: () => void;
  onJoint: (id: string) => void;
}) {
  const { plan, view } = useProject();
  const seam = plan.seams.find((s) => s.id === face.seam);
  const codes = face.pieces.map((key) => view?.pieces.find((p) => p.key === key)?.code ?? '?');
  const joints = view?.joints.filter((j) => j.face === face.id) ?? [];
  return (
    <li
      className={`border-rule border-t ${open ? '-mx-3.5 border-l-[3px] border-l-lapis bg-lapis-wash/50 pr-3.5 pl-[11px]' : ''}`}
    >
      <button
        type="button"
        className="flex w-full items-baseline justify-between gap-2 py-1.5 text-left"
        aria-current={open}
        onClick={onFace}
      >
        <span className="min-w-0 truncate">
          <strong className="font-semibold">
            {codes[0]} to {codes[1]}
          </strong>{' '}
          <span className="text-ink-soft">
            {seam ? seamTitle(seam) : ''}
            {face.part === undefined || seam?.kind === 'flat' ? '' : `, ${face.part + 1}`}
          </span>
        </span>
        <span className={joints.length === 0 ? 'whitespace-nowrap text-sm text-warn' : 'num text-[12px] text-ink-soft'}>
          {joints.length === 0 ? 'no joint' : `${(face.area / 100).toFixed(1)} cm²`}
        </span>
      </button>
      {joints.length > 0 && (
        <ul className="pb-1.5 pl-3">
          {joints.map((j) => (
            <li key={j.id}>
              <JointRow
                joint={j}
                selected={j.id === selected}
                troubled={troubled.has(j.id)}
                onSelect={() => onJoint(j.id)}
              />
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}

function JointRow({
  joint,
  selected,
  troubled,
  onSelect,
}: {
  joint: JointView;
  selected: boolean;
  troubled: boolean;
  onSelect: () => void;
}) {
  const { plan, view } = useProject();
  const own = plan.joints.find((j) => j.id === joint.id);
  if (!own) return null;
  const male = view?.pieces.find((p) => p.key === joint.male)?.code;
  return (
    <button
      type="button"
      aria-current={selected}
      onClick={onSelect}
      className={`flex w-full items-baseline justify-between gap-2 rounded px-1.5 py-0.5 text-left ${selected ? 'bg-lapis text-sheet' : 'hover:bg-paper-deep'}`}
    >
      <span className="truncate">
        {joint.id} {own.shape} pin{male ? ` on ${male}` : ''}
      </span>
      <span className={`num whitespace-nowrap text-[12px] ${troubled && !selected ? 'text-stop' : ''}`}>
        {troubled ? 'mend' : `${own.diameter} × ${own.depth}`}
      </span>
    </button>
  );
}

function JointDetails({ joint, placed, face }: { joint: Joint; placed: JointView | null; face: FaceView | null }) {
  const { plan, view, change } = useProject();
  const place = placeOn(plan.seams, joint.seam, joint.part, view?.map ?? IDENTITY);
  const [u, v] = place.toModel(joint.at);
  const set = (label: string, next: Partial<Omit<JointInput, 'id'>>): void =>
    change(`${label} of pin ${joint.id}`, { do: 'setJoint', id: joint.id, set: next });
  const codes = face?.pieces.map((key) => view?.pieces.find((p) => p.key === key)?.code ?? '?') ?? ['−', '+'];
  const { warn } = wallLimits(plan.printer);
  const findings = view?.findings.filter((f) => f.where.joint === joint.id) ?? [];
  const number = (x: number | null | undefined): string =>
    x === null || x === undefined ? 'none' : `${x.toFixed(2)} mm`;
  return (
    <>
      <Part
        title={`Pin ${joint.id}`}
        note={
          <button
            type="button"
            className="flex items-center gap-1 text-stop underline-offset-2 hover:underline"
            onClick={() => change(`Delete pin ${joint.id}`, { do: 'removeJoint', id: joint.id })}
          >
            <Trash2 size={13} aria-hidden /> delete
          </button>
        }
      >
        <div className="flex flex-col gap-2">
          <Findings list={findings} />
        </div>
      </Part>
      <Part title="Measured" note={`walls should be ${warn.toFixed(2)} mm`}>
        <Facts
          rows={[
            ['Peg', `${joint.diameter.toFixed(2)} mm`],
            ['Socket', `${(joint.diameter + 2 * joint.gap).toFixed(2)} mm`],
            ['Socket depth', number(placed?.socketDepth)],
            ['To the edge', number(placed?.edge)],
            ['Wall round the socket', number(placed?.wall)],
            ['Under the peg', number(placed?.root)],
            ['To the next joint', number(placed?.apart)],
          ]}
        />
      </Part>
      <Part title="Shape and place">
        <div className="flex flex-col gap-2">
          <Choice
            label="Outline"
            value={joint.shape}
            options={[
              { value: 'round', label: 'round' },
              { value: 'square', label: 'square' },
              { value: 'hexagon', label: 'hexagon' },
            ]}
            onChange={(shape) => set('Outline', { shape })}
          />
          <Choice
            label="Peg on"
            value={joint.male}
            options={[
              { value: '-', label: codes[0] },
              { value: '+', label: codes[1] },
            ]}
            onChange={(male) => set('Side', { male })}
          />
          <div className="grid grid-cols-2 gap-2">
            <NumberField
              label={joint.shape === 'round' ? 'Diameter' : 'Across flats'}
              value={joint.diameter}
              min={0.5}
              max={200}
              step={0.5}
              onCommit={(diameter) => set('Size', { diameter, chamfer: Math.min(joint.chamfer, diameter / 4) })}
            />
            <NumberField
              label="Depth"
              value={joint.depth}
              min={0.5}
              max={200}
              step={0.5}
              onCommit={(depth) => set('Depth', { depth, chamfer: Math.min(joint.chamfer, depth / 3) })}
            />
            <NumberField
              label="Gap per side"
              value={joint.gap}
              min={0}
              max={3}
              step={0.05}
              onCommit={(gap) => set('Gap', { gap })}
            />
            <NumberField
              label="Depth gap"
              value={joint.depthGap}
              min={0}
              max={10}
              step={0.1}
              onCommit={(depthGap) => set('Depth gap', { depthGap })}
            />
            <NumberField label="At u" value={u} onCommit={(x) => set('Place', { at: place.toSource([x, v]) })} />
            <NumberField label="At v" value={v} onCommit={(x) => set('Place', { at: place.toSource([u, x]) })} />
            <NumberField
              label="Turn"
              unit="°"
              value={(joint.turn * 180) / Math.PI}
              step={5}
              onCommit={(turn) => set('Turn', { turn: (turn * Math.PI) / 180 })}
            />
            <NumberField
              label="Lead-in"
              value={joint.chamfer}
              min={0}
              max={Math.min(joint.diameter / 2, joint.depth) - 0.01}
              step={0.1}
              onCommit={(chamfer) => set('Lead-in', { chamfer })}
            />
          </div>
        </div>
      </Part>
    </>
  );
}

/** A place for the next pin: the roomiest, or across the middle from those that are there. */
function freePlace(face: FaceView, joints: readonly JointView[]): [number, number] {
  const { u, v, distance } = face.pole;
  if (joints.length === 0) return [u, v];
  const last = joints[joints.length - 1];
  if (Math.hypot(last.u - u, last.v - v) > distance * 0.3) return [2 * u - last.u, 2 * v - last.v];
  return [u + distance * 0.5, v];
}

/** Where a joint's (u, v) lie: the seam's plane, or that of one of its parts. */
function placeOn(seams: Plan['seams'], id: string, part: number | undefined, map: Affine): SeamPlace {
  const seam = seams.find((s) => s.id === id) ?? seams[0];
  return partPlace(seam, part ?? 0, map) ?? seamPlace(seam, map);
}
