import { FITS, type Fit, gapOf, type Joint, type JointKind, kindOf, MATERIALS, type Printer } from '@gephyra/core/plan';
import { zodResolver } from '@hookform/resolvers/zod';
import { format } from 'date-fns';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import { Link } from 'react-router';
import { z } from 'zod';
import type { FaceView } from '../../engine/types.ts';
import { materialName, mergedFits, withResult } from '../../equipment/fits.ts';
import { useEquipment } from '../../equipment/use-equipment.ts';
import { useProject } from '../../project/project.tsx';
import { Button } from '../../ui/button.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { saveFile } from '../../ui/save-file.ts';
import { useToasts } from '../../ui/toasts.tsx';
import { presetOf } from './kinds.ts';

/** The fits that hold for this project's printer, a coupon to find better ones, and a slice of the real seam. */
export function FitPanel({ face, joint }: { face: FaceView | null; joint: Joint | null }) {
  const { plan, change } = useProject();
  const { printer } = plan;
  const materials = MATERIALS.filter((m) => m.kind === printer.kind).map((m) => m.name);
  return (
    <>
      <Part title="Fits" note={printer.name}>
        <Pick
          label="Material"
          value={printer.material ?? materials[0]}
          options={[...new Set([...materials, ...(printer.material ? [printer.material] : [])])].map((m) => ({
            value: m,
            label: m,
          }))}
          onChange={(material) =>
            change(`Material ${material}`, (now) => ({ do: 'set', set: { printer: { ...now.printer, material } } }))
          }
        />
        <FitTable printer={printer} kind={joint?.kind ?? 'pin'} />
        <FromEquipment />
      </Part>
      <CouponPart joint={joint} />
      {face && <Rehearsal face={face} joint={joint} />}
    </>
  );
}

/** The equipment may know this printer better than the project does. */
function FromEquipment() {
  const { plan, change } = useProject();
  const { equipment } = useEquipment();
  const { printer } = plan;
  const known = equipment.printers.find((p) => p.name === printer.name);
  const fits = known?.materials.find((m) => m.name === materialName(printer))?.fits;
  const news = fits && Object.keys(fits).length > 0 && JSON.stringify(fits) !== JSON.stringify(printer.fits ?? {});
  return (
    <p className="mt-2 flex flex-wrap items-center gap-2">
      {news && (
        <Button
          onClick={() =>
            change('Fits kept for the printer', (now) => ({ do: 'set', set: { printer: { ...now.printer, fits } } }))
          }
        >
          Take the fits kept for it
        </Button>
      )}
      <Link to="/printers" className="text-lapis underline underline-offset-2">
        Printers and fits
      </Link>
    </p>
  );
}

/** Gaps per side of the fits, for one kind of joint. */
function FitTable({ printer, kind }: { printer: Printer; kind: JointKind }) {
  return (
    <table className="mt-2 w-full">
      <caption className="pb-1 text-left text-ink-soft text-sm">Gap per side for a {kindOf({ kind }).name}, mm</caption>
      <tbody>
        {FITS.map((fit) => {
          const own = printer.fits?.[kind]?.[fit] ?? printer.fits?.all?.[fit];
          return (
            <tr key={fit} className="border-rule border-t">
              <th scope="row" className="py-1 text-left font-normal">
                {fit}
              </th>
              <td className="num py-1 text-right">{gapOf(fit, kind, printer).toFixed(2)}</td>
              <td className="py-1 pl-2 text-right text-ink-soft text-sm">
                {own === undefined ? 'to begin with' : 'tried'}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Makes a coupon for a kind of joint, and takes what it said. */
function CouponPart({ joint }: { joint: Joint | null }) {
  const { engine } = useProject();
  const toasts = useToasts();
  const [from, setFrom] = useState(0.05);
  const [step, setStep] = useState(0.05);
  const [count, setCount] = useState(6);
  const [made, setMade] = useState<{ gaps: readonly number[]; minutes: number } | null>(null);
  const kind = joint?.kind ?? 'pin';
  const sizes = joint ? presetOf(joint) : { kind: 'pin', diameter: 6, depth: 5 };
  const gaps = Array.from({ length: count }, (_, i) => Number((from + step * i).toFixed(4)));
  const make = async (): Promise<void> => {
    if (!engine) return;
    try {
      const file = await engine.coupon(
        { joint: sizes as Parameters<typeof engine.coupon>[0]['joint'], from, step, count },
        `coupon ${kind}`,
      );
      saveFile(file.name, file.bytes, 'model/3mf');
      setMade({ gaps: file.gaps, minutes: file.minutes });
    } catch (error) {
      toasts.say({ text: (error as Error).message, tone: 'stop' });
    }
  };
  return (
    <Part title="Coupon" note={kindOf({ kind }).name}>
      <div className="grid grid-cols-3 gap-2">
        <NumberField label="From" value={from} min={0} max={2} step={0.05} onCommit={setFrom} />
        <NumberField label="Step" value={step} min={0.01} max={0.5} step={0.01} onCommit={setStep} />
        <NumberField
          label="Count"
          unit=""
          digits={0}
          value={count}
          min={2}
          max={12}
          onCommit={(x) => setCount(Math.round(x))}
        />
      </div>
      <Button className="mt-2" onClick={() => void make()}>
        Save the coupon
      </Button>
      {made && (
        <p className="mt-1.5 text-ink-soft text-sm" role="status">
          Gaps {made.gaps.join(', ')} mm; about {Math.round(made.minutes)} minutes to print.
        </p>
      )}
      <CouponResult key={kind} kind={kind as JointKind} gaps={gaps} />
    </Part>
  );
}

/** What is said of a printed coupon: which gap was which fit, empty where it is not known. */
const saidSchema = z.object({
  gaps: z
    .record(z.enum(FITS), z.string())
    .refine((gaps) => Object.values(gaps).some((g) => g !== ''), 'Say of at least one gap which fit it was.'),
  note: z.string().trim().max(500, 'A note has at most 500 letters.'),
});
type Said = z.infer<typeof saidSchema>;

function CouponResult({ kind, gaps }: { kind: JointKind; gaps: readonly number[] }) {
  const { plan, change } = useProject();
  const { change: keep } = useEquipment();
  const toasts = useToasts();
  const { control, register, handleSubmit, reset, formState } = useForm<Said>({
    resolver: zodResolver(saidSchema),
    defaultValues: { gaps: Object.fromEntries(FITS.map((fit) => [fit, ''])), note: '' },
  });
  const take = (said: Said): void => {
    const found = FITS.flatMap((fit) => (said.gaps[fit] ? [[fit, Number(said.gaps[fit])] as const] : []));
    const result = {
      date: format(new Date(), 'yyyy-MM-dd'),
      kind,
      gaps: Object.fromEntries(found) as Partial<Record<Fit, number>>,
      note: said.note,
    };
    const { printer } = plan;
    change(`Fits from a coupon`, (now) => ({
      do: 'set',
      set: { printer: { ...now.printer, fits: mergedFits(now.printer.fits, kind, result.gaps) } },
    }));
    void keep((w) => withResult(w, printer, result));
    toasts.say({ text: `The fits of ${printer.name} are set; joints that name a fit follow.` });
    reset();
  };
  const wrong =
    formState.errors.gaps?.root?.message ?? formState.errors.gaps?.message ?? formState.errors.note?.message;
  return (
    <form aria-label="What the coupon said" onSubmit={(e) => void handleSubmit(take)(e)}>
      <p className="mt-3 mb-1">Printed it? Say which gap was which fit.</p>
      <div className="grid grid-cols-2 gap-2">
        {FITS.map((fit) => (
          <Controller
            key={fit}
            control={control}
            name={`gaps.${fit}`}
            render={({ field }) => (
              <Pick
                label={`Was ${fit}`}
                value={field.value}
                options={[
                  { value: '', label: 'not known' },
                  ...gaps.map((g) => ({ value: String(g), label: `${g} mm` })),
                ]}
                onChange={field.onChange}
              />
            )}
          />
        ))}
      </div>
      <label className="mt-2 block">
        <span className="mb-0.5 block text-ink-soft text-sm">Note</span>
        <input className="h-[30px] w-full rounded border border-rule-strong bg-sheet px-2" {...register('note')} />
      </label>
      {wrong && (
        <p role="alert" className="mt-1 text-sm text-stop">
          {wrong}
        </p>
      )}
      <Button type="submit" className="mt-2" look="main">
        Set the fits
      </Button>
    </form>
  );
}

/** A few millimetres of both real pieces at the seam, as two small files. */
function Rehearsal({ face, joint }: { face: FaceView; joint: Joint | null }) {
  const { plan, engine } = useProject();
  const toasts = useToasts();
  const [thickness, setThickness] = useState(6);
  const save = async (only: string | null): Promise<void> => {
    if (!engine) return;
    try {
      const file = await engine.rehearsal(plan, face.id, thickness, only);
      saveFile(file.name, file.bytes, 'application/zip');
    } catch (error) {
      toasts.say({ text: (error as Error).message, tone: 'stop' });
    }
  };
  return (
    <Part title="Rehearsal slice">
      <p className="mb-2 text-ink-soft">The real seam as a quick print: of both pieces only what is next to it.</p>
      <NumberField
        label="Thickness on either side"
        value={thickness}
        min={1}
        max={60}
        step={1}
        onCommit={setThickness}
      />
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Button onClick={() => void save(null)}>Save the whole face</Button>
        {joint && <Button onClick={() => void save(joint.id)}>Only round {joint.id}</Button>}
      </div>
    </Part>
  );
}
