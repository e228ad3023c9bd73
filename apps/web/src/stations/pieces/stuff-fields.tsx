import { MATERIALS } from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { Pick } from '../../ui/pick.tsx';

/** Colours of filament and resin as they are commonly sold. */
const COLOURS = [
  ['#f4f1ea', 'white'],
  ['#1f2326', 'black'],
  ['#8b8f92', 'grey'],
  ['#a33a2a', 'red'],
  ['#1f5673', 'blue'],
  ['#2c7a66', 'green'],
  ['#c9a13b', 'gold'],
  ['#b08a5e', 'wood'],
  ['#b9c4c9', 'clear'],
] as const;

const colourName = (colour: string | undefined): string =>
  COLOURS.find(([value]) => value === colour)?.[1] ?? colour ?? '';

/** What pieces are printed from and on: the same for all of them, empty where they differ. */
export function StuffFields({ keys, name }: { keys: readonly string[]; name: string }) {
  const { plan, change } = useProject();
  const notes = keys.map((key) => plan.pieces.find((p) => p.key === key));
  const same = (of: 'material' | 'colour' | 'printer'): string => {
    const values = new Set(notes.map((n) => n?.[of] ?? ''));
    return values.size === 1 ? [...values][0] : '';
  };
  const set = (label: string, what: Record<string, unknown>) => change(label, { do: 'setPieces', keys, set: what });
  const kinds = new Set([plan.printer, ...plan.printers].map((p) => p.kind));
  return (
    <>
      <Pick
        label="Material"
        value={same('material')}
        options={[
          { value: '', label: 'as the printer has it' },
          ...MATERIALS.filter((m) => kinds.has(m.kind)).map((m) => ({ value: m.name, label: m.name })),
        ]}
        onChange={(material) =>
          set(`Print ${name} from ${material || 'what the printer has'}`, { material: material || undefined })
        }
      />
      <Pick
        label="Colour"
        value={same('colour')}
        options={[
          { value: '', label: 'any' },
          ...COLOURS.map(([value, label]) => ({ value: value as string, label: label as string })),
        ]}
        onChange={(colour) =>
          set(`Print ${name} in ${colourName(colour) || 'any colour'}`, { colour: colour || undefined })
        }
      />
      <Pick
        label="Printer"
        value={same('printer')}
        options={[
          { value: '', label: 'the smallest that holds it' },
          ...[plan.printer, ...plan.printers].map((p) => ({ value: p.name, label: p.name })),
        ]}
        onChange={(printer) =>
          set(`Print ${name} on ${printer || 'the smallest printer that holds it'}`, { printer: printer || undefined })
        }
      />
    </>
  );
}
