import {
  compose,
  type DefectKind,
  inverse,
  mapPoint,
  type Place,
  type StepInput,
  stepSchemaOf,
  uniformScale,
} from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import type { Marker } from '../../project/shown.ts';
import { Bar } from '../../ui/bar.tsx';
import { bounded } from '../../ui/bounded.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts, Part } from '../../ui/panels.tsx';
import { together, useHealth } from './use-health.ts';

interface Words {
  readonly one: string;
  readonly many: string;
  readonly tone: 'stop' | 'warn' | 'note';
  /** the step that mends it, when there is one of its own */
  readonly mend?: { readonly label: string; readonly step: StepInput };
}

const WORDS: Record<DefectKind, Words> = {
  holes: { one: 'hole', many: 'holes', tone: 'stop', mend: { label: 'Close', step: { kind: 'close' } } },
  openings: {
    one: 'opening, plainly meant',
    many: 'openings, plainly meant',
    tone: 'warn',
    mend: { label: 'Close', step: { kind: 'close', openings: true } },
  },
  openEdges: { one: 'open edge', many: 'open edges', tone: 'stop' },
  nonManifoldEdges: {
    one: 'edge of more than two triangles',
    many: 'edges of more than two triangles',
    tone: 'stop',
    mend: { label: 'Take apart', step: { kind: 'split' } },
  },
  nonManifoldVertices: {
    one: 'vertex where surfaces only touch',
    many: 'vertices where surfaces only touch',
    tone: 'warn',
    mend: { label: 'Take apart', step: { kind: 'split' } },
  },
  inconsistent: {
    one: 'edge whose sides are at odds',
    many: 'edges whose sides are at odds',
    tone: 'stop',
    mend: { label: 'Turn outward', step: { kind: 'orient' } },
  },
  inverted: {
    one: 'shell inside out',
    many: 'shells inside out',
    tone: 'warn',
    mend: { label: 'Turn outward', step: { kind: 'orient' } },
  },
  duplicates: {
    one: 'repeated triangle',
    many: 'repeated triangles',
    tone: 'stop',
    mend: { label: 'Drop', step: { kind: 'drop' } },
  },
  degenerate: {
    one: 'triangle without area',
    many: 'triangles without area',
    tone: 'note',
    mend: { label: 'Drop', step: { kind: 'drop' } },
  },
  selfCrossings: {
    one: 'pair of triangles crossing',
    many: 'pairs of triangles crossing',
    tone: 'warn',
    mend: { label: 'Resolve', step: { kind: 'untangle' } },
  },
  dust: { one: 'speck of dust', many: 'specks of dust', tone: 'note' },
  overlaps: {
    one: 'pair of bodies overlapping',
    many: 'pairs of bodies overlapping',
    tone: 'stop',
    mend: { label: 'Join', step: { kind: 'join' } },
  },
};

const TONE = { stop: 'text-stop', warn: 'text-warn', note: 'text-lapis' };

/** What is wrong with the model, each with its places in the view and its mend. */
export function HealthPanel({ onShow }: { onShow(markers: readonly Marker[], focus: Marker | null): void }) {
  const { view, model, preview, candidate } = useProject();
  const work = useHealth();
  const [{ body }] = useSelection();
  const [at, setAt] = useState<{ kind: DefectKind; index: number } | null>(null);
  const [tolerance, setTolerance] = useState(0.02);
  const [dust, setDust] = useState(2);
  const [patch, setPatch] = useState<'curved' | 'flat'>('curved');
  const { report } = work;
  const own =
    report && body
      ? {
          ...report,
          bodies: report.bodies.filter((h) => h.body === body),
          overlaps: report.overlaps.filter((o) => o.bodies.includes(body)),
        }
      : report;
  const defects = own ? together(own) : [];
  const on = body ? { on: [body] } : {};

  // places are where the heavy steps left the model; light ones have moved it since
  const since = view && model ? compose(view.map, inverse(model.map)) : null;
  const markerOf = (p: Place): Marker => ({
    at: since ? mapPoint(since, p.at) : p.at,
    radius: p.radius * ((since && uniformScale(since)) ?? 1),
  });
  const shown = at ? defects.find((d) => d.kind === at.kind) : undefined;
  const place = at && shown ? shown.places[at.index % shown.places.length] : undefined;
  const placeKey = JSON.stringify([at, place, view?.map]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all of the place
  useEffect(() => {
    const marker = place ? markerOf(place) : null;
    onShow(marker ? [marker] : [], marker);
    return () => onShow([], null);
  }, [placeKey, onShow]);

  const step = (kind: DefectKind, by: number): void => {
    const count = defects.find((d) => d.kind === kind)?.places.length ?? 1;
    const from = at?.kind === kind ? at.index : by > 0 ? -1 : 0;
    setAt({ kind, index: (from + by + count) % count });
  };
  return (
    <>
      <Part title="Health" note={body ? 'of the selected body' : 'of all bodies'}>
        {work.failure && <p className="text-stop">{work.failure}</p>}
        {candidate && <p className="text-ink-soft">Examined again when the preview is taken or left.</p>}
        {!own && !work.failure && !candidate && (
          <p className="flex items-center gap-2 text-ink-soft" role="status">
            <Bar label="Examining the model" share={work.share} />
            {work.what}
          </p>
        )}
        {own && defects.length === 0 && (
          <p className="text-good" role="status">
            Closed, nothing crossing, nothing to mend.
          </p>
        )}
        <ul className={defects.length > 0 ? 'border-rule border-t' : ''} aria-label="Defects">
          {defects.map((d) => {
            const words = WORDS[d.kind];
            const here = at?.kind === d.kind;
            return (
              <li key={d.kind} className="border-rule border-b py-1.5">
                <div className="flex items-center justify-between gap-2">
                  <span>
                    <span className={`num font-semibold ${TONE[words.tone]}`}>{d.count.toLocaleString('en')}</span>{' '}
                    {d.count === 1 ? words.one : words.many}
                  </span>
                  {words.mend && (
                    <Button
                      className="h-7 px-2 text-sm"
                      onClick={() =>
                        words.mend &&
                        preview({
                          ...words.mend.step,
                          ...(words.mend.step.kind === 'close' ? { patch } : {}),
                          ...(d.kind === 'overlaps' ? { on: [...d.bodies] } : on),
                        } as StepInput)
                      }
                    >
                      {words.mend.label}
                    </Button>
                  )}
                </div>
                <div className="flex items-center gap-1 text-sm">
                  <Button
                    look="quiet"
                    className="h-6 px-1.5 text-sm"
                    aria-label={`Previous of ${words.many}`}
                    onClick={() => step(d.kind, -1)}
                  >
                    previous
                  </Button>
                  <Button
                    look="quiet"
                    className="h-6 px-1.5 text-sm"
                    aria-label={`Next of ${words.many}`}
                    onClick={() => step(d.kind, 1)}
                  >
                    next
                  </Button>
                  {here && place && (
                    <span className="num text-ink-soft">
                      {at.index + 1} of {d.places.length}
                      {(d.kind === 'holes' || d.kind === 'openings') && place.value !== undefined
                        ? `, ${(place.value * ((since && uniformScale(since)) ?? 1)).toFixed(1)} mm round`
                        : ''}
                    </span>
                  )}
                </div>
              </li>
            );
          })}
        </ul>
        {own && (
          <div className="mt-2">
            <Facts
              rows={[
                ['Shells', String(own.bodies.reduce((n, h) => n + h.shells, 0))],
                ['Hollows inside', String(own.bodies.reduce((n, h) => n + h.cavities, 0))],
                ['Triangles', own.bodies.reduce((n, h) => n + h.triangles, 0).toLocaleString('en')],
              ]}
            />
          </div>
        )}
        {own && own.bodies.reduce((n, h) => n + h.triangles, 0) > 500_000 && (
          <p className="mt-2 text-sm">
            More than half a million triangles: most of them do not show in a print. Simplify it under Solids.
          </p>
        )}
      </Part>
      <Part title="Mend">
        <div className="flex flex-col gap-2">
          <Button look="main" disabled={candidate !== null || !model} onClick={() => preview({ kind: 'mend', ...on })}>
            Mend all
          </Button>
          <Choice
            label="Patch over holes"
            value={patch}
            options={[
              { value: 'curved', label: 'curved, as round it' },
              { value: 'flat', label: 'flat' },
            ]}
            onChange={(x) => setPatch(x)}
          />
          <div className="flex items-end gap-2">
            <NumberField
              label="Weld within"
              value={tolerance}
              digits={4}
              step={0.01}
              {...bounded(stepSchemaOf('weld').shape.tolerance)}
              onCommit={setTolerance}
            />
            <Button onClick={() => preview({ kind: 'weld', tolerance, ...on })}>Weld</Button>
          </div>
          <div className="flex items-end gap-2">
            <NumberField label="Dust under" value={dust} digits={2} min={0.001} max={1000} onCommit={setDust} />
            <Button onClick={() => preview({ kind: 'drop', dust, ...on })}>Drop dust</Button>
          </div>
        </div>
      </Part>
    </>
  );
}
