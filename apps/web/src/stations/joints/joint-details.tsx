import { converted, type Joint, type JointFields, kindOf, wallLimits } from '@gephyra/core/plan';
import { Trash2 } from 'lucide-react';
import type { FaceView, JointView } from '../../engine/types.ts';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { AskedFields } from '../../ui/asked-fields.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { JointFit } from './joint-fit.tsx';
import { jointRows } from './joint-numbers.ts';
import { JointPlace } from './joint-place.tsx';
import { KINDS } from './kinds.ts';
import { Presets } from './presets.tsx';

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
  const { name } = kindOf(joint);
  const set = (label: string, next: JointFields) =>
    change(`${label} of ${name} ${joint.id}`, { do: 'setJoint', id: joint.id, set: next });
  const codes = face?.pieces.map((key) => view?.pieces.find((p) => p.key === key)?.code ?? '?') ?? ['−', '+'];
  const { warn } = wallLimits(plan.printer);
  const findings = view?.findings.filter((f) => f.where.joint === joint.id) ?? [];
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
          <div className="flex flex-wrap items-end gap-2">
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
      <JointFit joint={joint} set={set} />
      <Part title="Measured" note={live ? 'as it moves' : `walls should be ${warn.toFixed(2)} mm`}>
        <Facts rows={jointRows(joint, live ?? placed, codes, plan.printer)} />
      </Part>
      <Part title="Shape">
        <AskedFields fields={kindOf(joint).fields(joint, codes)} set={set} />
      </Part>
      <JointPlace joint={joint} face={face} codes={codes} set={set} />
    </>
  );
}
