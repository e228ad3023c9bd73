import { FITS, type Joint, type JointFields, jointCommon, jointGap } from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { jointSizes } from './joint-numbers.ts';

/** How loosely a joint goes together: by a fit of the printer and material, or by a gap of its own. */
export function JointFit({ joint, set }: { joint: Joint; set: (label: string, next: JointFields) => void }) {
  const { plan } = useProject();
  const gap = jointGap(joint, plan.printer);
  return (
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
            {...bounded(jointCommon.gap)}
            step={0.05}
            onCommit={(x) => set('Gap', { gap: x })}
          />
        )}
        <NumberField
          label="Depth gap"
          value={joint.depthGap}
          {...bounded(jointCommon.depthGap)}
          step={0.1}
          onCommit={(depthGap) => set('Depth gap', { depthGap })}
        />
      </div>
      <p className="num mt-1.5 text-[13px]">{jointSizes(joint, gap)}</p>
    </Part>
  );
}
