import type { JointPreset } from '@gephyra/contract';
import type { Joint } from '@gephyra/core/plan';
import { useState } from 'react';
import { useEquipment } from '../../equipment/use-equipment.ts';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import { DropMenu } from '../../ui/menu.tsx';
import { fromPreset, presetOf } from './kinds.ts';

/** Keeps a joint's settings under a name in the equipment, and gives it those that were kept. */
export function Presets({ joint }: { joint: Joint }) {
  const { change } = useProject();
  const { equipment, change: keep } = useEquipment();
  const [name, setName] = useState<string | null>(null);
  const use = (preset: JointPreset): void => {
    const { id, seam, at, part } = joint;
    const made = fromPreset(preset.joint, { id, seam, at, ...(part !== undefined && { part }) });
    if (made) change(`Preset ${preset.name} for ${id}`, { do: 'putJoint', joint: made });
  };
  if (name !== null) {
    return (
      <form
        className="flex min-w-0 grow items-end gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          const plain = name.trim();
          if (plain === '') return;
          void keep((w) => ({
            ...w,
            presets: [...w.presets.filter((p) => p.name !== plain), { name: plain, joint: presetOf(joint) }],
          }));
          setName(null);
        }}
      >
        <label className="min-w-0 grow">
          <span className="mb-0.5 block text-ink-soft text-sm">Name of the preset</span>
          <input
            className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-2"
            // biome-ignore lint/a11y/noAutofocus: the field was asked for just now
            autoFocus
            value={name}
            maxLength={120}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') setName(null);
            }}
          />
        </label>
        <Button type="submit">Keep</Button>
      </form>
    );
  }
  return (
    <DropMenu
      label="Preset"
      entries={[
        ...equipment.presets.map((p) => ({ title: p.name, run: () => use(p) })),
        { title: 'Keep this one …', run: () => setName(''), apart: true },
        ...equipment.presets.map((p, i) => ({
          title: `Forget ${p.name}`,
          run: () => void keep((w) => ({ ...w, presets: w.presets.filter((x) => x !== p) })),
          apart: i === 0,
        })),
      ]}
    />
  );
}
