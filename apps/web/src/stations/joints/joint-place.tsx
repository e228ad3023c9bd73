import { degrees, IDENTITY, type Joint, type JointFields, jointCommon, kindOf, radians } from '@gephyra/core/plan';
import type { FaceView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { type AxisName, axisNameOf, leanAlong } from './lean.ts';
import { usePlaces } from './use-place.ts';

/** Where a joint is, how it is turned, and which piece it stands out of. */
export function JointPlace({
  joint,
  face,
  codes,
  set,
}: {
  joint: Joint;
  face: FaceView | null;
  /** of the pieces on the − and the + side */
  codes: readonly string[];
  set: (label: string, next: JointFields) => void;
}) {
  const place = usePlaces()(joint);
  const [u, v] = place.toModel(joint.at);
  const kind = kindOf(joint);
  const lap = kind.follows === 'wall';
  return (
    <Part title="Place">
      <div className="grid grid-cols-2 gap-2">
        <NumberField label="At u" value={u} onCommit={(x) => set('Place', { at: place.toSource([x, v]) })} />
        <NumberField label="At v" value={v} onCommit={(x) => set('Place', { at: place.toSource([u, x]) })} />
        {!lap && (
          <>
            <NumberField
              label="Turn"
              unit="°"
              value={degrees(joint.turn)}
              step={5}
              onCommit={(turn) => set('Turn', { turn: radians(turn) })}
            />
            <NumberField
              label="Mouth chamfer"
              value={joint.mouth}
              {...bounded(jointCommon.mouth)}
              step={0.1}
              onCommit={(mouth) => set('Mouth', { mouth })}
            />
          </>
        )}
      </div>
      <div className="mt-2 flex flex-col gap-2">
        {kind.leans && <Lean joint={joint} face={face} set={set} />}
        <Choice
          label={kind.from}
          value={joint.male}
          options={[
            { value: '-', label: codes[0] },
            { value: '+', label: codes[1] },
          ]}
          onChange={(male) => set('Side', { male })}
        />
      </div>
    </Part>
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
  const map = view?.map ?? IDENTITY;
  const now = axisNameOf(joint, way, map);
  return (
    <Pick<AxisName>
      label="Axis"
      value={now}
      options={[
        { value: 'square', label: 'square to the face' },
        ...(way ? [{ value: 'way' as const, label: 'along the way in' }] : []),
        { value: 'x', label: 'along x' },
        { value: 'y', label: 'along y' },
        { value: 'z', label: 'along z' },
        ...(now === 'own' ? [{ value: 'own' as const, label: 'as it is' }] : []),
      ]}
      onChange={(to) => to !== 'own' && set('Axis', { lean: leanAlong(to, way, map) })}
    />
  );
}
