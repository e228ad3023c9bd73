import type { JointPreset } from '@gephyra/contract';
import type { Joint } from '@gephyra/core/plan';
import { useState } from 'react';
import { useEquipment } from '../../equipment/use-equipment.ts';
import { useProject } from '../../project/project.tsx';
import { DropMenu } from '../../ui/menu.tsx';
import { NameForm } from '../../ui/name-form.tsx';
import { fromPreset, presetOf } from './kinds.ts';

/** Keeps a joint's settings under a name in the equipment, and gives it those that were kept. */
export function Presets({ joint }: { joint: Joint }) {
  const { change } = useProject();
  const { equipment, change: keep } = useEquipment();
  const [naming, setNaming] = useState(false);
  const use = (preset: JointPreset): void => {
    const { id, seam, at, part } = joint;
    const made = fromPreset(preset.joint, { id, seam, at, ...(part !== undefined && { part }) });
    if (made) change(`Preset ${preset.name} for ${id}`, { do: 'putJoint', joint: made });
  };
  if (naming) {
    return (
      <NameForm
        className="min-w-0 basis-full"
        label="Name of the preset"
        take="Keep"
        onName={(name) => {
          void keep((w) => ({
            ...w,
            presets: [...w.presets.filter((p) => p.name !== name), { name, joint: presetOf(joint) }],
          }));
          setNaming(false);
        }}
        onCancel={() => setNaming(false)}
      />
    );
  }
  return (
    <DropMenu
      label="Preset"
      entries={[
        ...equipment.presets.map((p) => ({ title: p.name, run: () => use(p) })),
        { title: 'Keep this one …', run: () => setNaming(true), apart: true },
        ...equipment.presets.map((p, i) => ({
          title: `Forget ${p.name}`,
          run: () => void keep((w) => ({ ...w, presets: w.presets.filter((x) => x !== p) })),
          apart: i === 0,
        })),
      ]}
    />
  );
}
