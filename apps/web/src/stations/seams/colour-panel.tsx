import {
  type Affine,
  dot,
  freeId,
  IDENTITY,
  inverse,
  mapPoint,
  type Plan,
  parsePlan,
  type SeamInput,
  seamPlace,
  stepSchemaOf,
  sub,
} from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import type { ColourLineView } from '../../engine/seams.ts';
import type { Triple } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Tick } from '../../ui/tick.tsx';
import { flatSeam, profileSeam } from './placing.ts';

/** Farther off than this a line is followed so badly that its seam is not ticked beforehand, mm. */
const NEAR = 2;

const WHY_NOT = {
  patch: 'A patch on the surface: no cut parts it from the rest, but it can be an inlay.',
  off: 'No section follows this line.',
} as const;

const isFlat = (l: ColourLineView): boolean => l.cut.kind === 'across';
const isCut = (l: ColourLineView): boolean => isFlat(l) || (l.cut.kind === 'off' && l.bent !== null);

/** A line is followed by a bent seam where no plane does, or none does well. */
const bentAtFirst = (l: ColourLineView): boolean => l.bent !== null && (!isFlat(l) || l.worst > NEAR);

/** Seams along the lines between the file's colours: what was found, with how well a plane follows it, and the ticked ones placed. */
export function ColourPanel({ onShow, onDone }: { onShow: (quads: Float32Array | null) => void; onDone: () => void }) {
  const { plan, view, engine, change } = useProject();
  const [lines, setLines] = useState<readonly ColourLineView[] | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
  const [bent, setBent] = useState<ReadonlySet<number>>(new Set());
  const map = view?.map ?? IDENTITY;
  const ready = view !== null;
  const asked = JSON.stringify([plan.recipe, map]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked holds all that the answer depends on
  useEffect(() => {
    if (!ready || !engine) return;
    let late = false;
    setLines(null);
    engine.colourLines(plan).then(
      (found) => {
        if (late) return;
        setLines(found);
        const curved = new Set(found.flatMap((l, i) => (bentAtFirst(l) ? [i] : [])));
        const off = (l: ColourLineView, i: number): number => (curved.has(i) ? l.bent!.worst : l.worst);
        setBent(curved);
        setTicked(new Set(found.flatMap((l, i) => (isCut(l) && off(l, i) <= NEAR ? [i] : []))));
      },
      (error: Error) => !late && setWrong(error.message),
    );
    return () => {
      late = true;
    };
  }, [ready, engine, asked]);
  useEffect(() => {
    const shown = lines?.flatMap((l, i) => (ticked.has(i) ? [...(bent.has(i) ? l.quads : l.quad)] : [])) ?? [];
    onShow(shown.length > 0 ? Float32Array.from(shown) : null);
    return () => onShow(null);
  }, [lines, ticked, bent, onShow]);
  const place = (): void => {
    const seams: SeamInput[] = [];
    for (const [i, l] of lines?.entries() ?? []) {
      if (!ticked.has(i)) continue;
      const id = freeId('s', [...plan.seams, ...seams]);
      seams.push(bent.has(i) && l.bent ? { ...bentSeam(l, l.bent, map), id } : flatAlong(l, map, plan, id));
    }
    change(`Place ${seams.length === 1 ? 'a seam' : `${seams.length} seams`} along colours`, { do: 'addSeams', seams });
    onDone();
  };
  return (
    <Part title="Along colours" note="of the file">
      <div className="flex flex-col gap-3">
        <div role="status">
          {wrong && <p className="text-stop">{wrong}</p>}
          {!lines && !wrong && <p className="text-ink-soft">Looking for lines between colours …</p>}
          {lines?.length === 0 && (
            <p className="text-ink-soft">
              No closed body has more than one colour. Bring a file that gives its triangles or corners colours, such as
              3MF or PLY.
            </p>
          )}
        </div>
        {lines && lines.length > 0 && (
          <ul aria-label="Lines between colours" className="flex max-h-80 flex-col gap-2 overflow-y-auto">
            {lines.map((l, i) => (
              <li key={`${l.body} ${l.at.join()}`} className="border-rule border-t pt-1.5">
                {isCut(l) ? (
                  <Tick
                    tone="cut"
                    checked={ticked.has(i)}
                    onChange={(on) => setTicked(new Set(on ? [...ticked, i] : [...ticked].filter((k) => k !== i)))}
                  >
                    <Between line={l} />
                  </Tick>
                ) : (
                  <Between line={l} />
                )}
                <p className="text-ink-soft text-sm">
                  {isFlat(l) && !bent.has(i)
                    ? `${l.length.toFixed(0)} mm long; the plane follows it ${within(l)}`
                    : bent.has(i) && l.bent
                      ? `${l.length.toFixed(0)} mm long; a bent line follows it ${within(l.bent)}`
                      : WHY_NOT[l.cut.kind as keyof typeof WHY_NOT]}
                </p>
                {isFlat(l) && l.bent && (
                  <Choice
                    label={`Follow line ${i + 1}`}
                    value={bent.has(i) ? 'bent' : 'flat'}
                    options={[
                      { value: 'flat', label: `flat, ${l.worst.toFixed(1)} mm off` },
                      { value: 'bent', label: `bent, ${l.bent.worst.toFixed(1)} mm off` },
                    ]}
                    onChange={(how) =>
                      setBent(new Set(how === 'bent' ? [...bent, i] : [...bent].filter((k) => k !== i)))
                    }
                  />
                )}
                {l.cut.kind === 'patch' && <InlayKey at={l.cut.at} body={l.body} map={map} />}
              </li>
            ))}
          </ul>
        )}
        <div className="flex gap-2">
          <Button look="main" disabled={ticked.size === 0} onClick={place}>
            Place {ticked.size === 1 ? 'one seam' : `${ticked.size} seams`}
          </Button>
          <Button onClick={onDone}>Leave it</Button>
        </div>
      </div>
    </Part>
  );
}

const within = ({ worst, mean }: { readonly worst: number; readonly mean: number }): string =>
  `within ${worst.toFixed(1)} mm, ${mean.toFixed(1)} on the average`;

const nameOf = (l: ColourLineView): string => `${paintName(l, 0)} to ${paintName(l, 1)}`;

/** A flat seam along a line, through the region that the line goes round. */
function flatAlong(l: ColourLineView, map: Affine, plan: Plan, id: string): SeamInput {
  const seam = {
    ...flatSeam(l.at, l.normal, map, nameOf(l)),
    id,
    kind: 'flat' as const,
  };
  const seed = l.cut.kind === 'across' ? l.cut.seed : null;
  if (!seed) return seam;
  const { frame, toSource } = seamPlace(
    parsePlan({ version: plan.version, printer: plan.printer, seams: [seam] }).seams[0],
    map,
  );
  const d = sub(seed, frame.origin);
  return { ...seam, regions: { mode: 'only', seeds: [toSource([dot(d, frame.u), dot(d, frame.v)])] } };
}

/** A seam along a bent line. */
const bentSeam = (l: ColourLineView, { sweep, points }: NonNullable<ColourLineView['bent']>, map: Affine) =>
  profileSeam(l.at, sweep, l.normal, points, map, nameOf(l));

/** Takes a patch out as a body of its own; depth and gap are those of the step, to be changed at Model. */
function InlayKey({ at, body, map }: { at: Triple; body: string; map: Affine }) {
  const { change } = useProject();
  const [depth, setDepth] = useState(2);
  const put = (): void => {
    const step = {
      kind: 'inlay' as const,
      at: [...mapPoint(inverse(map), at)] as [number, number, number],
      depth,
      on: [body],
    };
    change('Make an inlay', { do: 'addStep', step });
  };
  return (
    <div className="mt-1 flex items-end gap-2">
      <NumberField
        label="Depth of the inlay"
        {...bounded(stepSchemaOf('inlay').shape.depth)}
        step={0.5}
        value={depth}
        onCommit={setDepth}
      />
      <Button onClick={put}>Make it an inlay</Button>
    </div>
  );
}

const paintName = ({ colours }: ColourLineView, side: 0 | 1): string =>
  colours[side].name || colours[side].colour || 'no colour';

function Between({ line }: { line: ColourLineView }) {
  return (
    <span className="inline-flex flex-wrap items-center gap-1.5">
      <Swatch colour={line.colours[0].colour} />
      {`${paintName(line, 0)} to `}
      <Swatch colour={line.colours[1].colour} />
      {paintName(line, 1)}
    </span>
  );
}

const Swatch = ({ colour }: { colour: string }) => (
  <span aria-hidden className="inline-block size-3 border border-ink" style={{ background: colour || 'transparent' }} />
);
