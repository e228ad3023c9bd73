import { frozenPieces, hoursText, type Weighed, type Wishes, weightOf } from '@gephyra/core';
import { useEffect, useRef, useState } from 'react';
import type { ProposalRequest, ProposalView } from '../../engine/proposals.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import { useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Slide } from '../../ui/slide.tsx';
import { Tick } from '../../ui/tick.tsx';
import { Working } from '../../ui/working.tsx';
import { type Leaning, levelWord, takingOf, variants, wishesOf } from './proposing.ts';

const SIZE = [132, 110] as const;

const SLIDERS = [
  ['few', 'Fewer pieces'],
  ['hidden', 'Hidden seams'],
  ['print', 'Easier printing'],
] as const satisfies readonly (readonly [keyof Wishes, string])[];

interface Shown {
  readonly title: string;
  readonly view: ProposalView;
  /** once it was jointed and laid */
  readonly weighed?: Weighed;
}

/** Seams found by search: what is wished for, what was found, side by side, and one of them taken as one step. */
export function ProposePanel({ onShow, onDone }: { onShow: (quads: Float32Array | null) => void; onDone: () => void }) {
  const { plan, view, change } = useProject();
  const [{ piece }] = useSelection();
  const { searching, search } = useSearch();
  const [leaning, setLeaning] = useState<Leaning>({ few: 0, hidden: 0, print: 0 });
  const [jointRoom, setJointRoom] = useState(8);
  const [which, setWhich] = useState<'large' | 'piece'>('large');
  const [replace, setReplace] = useState(true);
  const [alike, setAlike] = useState(true);
  const [turned, setTurned] = useState(false);
  const longestRoom = Math.max(...[plan.printer, ...plan.printers].flatMap((p) => p.size));
  const [longest, setLongest] = useState<number | null>(null);
  const [whole, setWhole] = useState<readonly string[]>([]);
  const still = [...frozenPieces(plan.log ?? []).keys()];
  const [found, setFound] = useState<readonly Shown[]>([]);
  const [wrong, setWrong] = useState<string | null>(null);
  const [ran, setRan] = useState<'not yet' | 'going on' | 'done'>('not yet');
  const chosen = view?.pieces.find((p) => p.key === piece);
  const only = which === 'piece' && chosen ? [chosen.key] : undefined;
  // only what is too large is parted
  const large = new Set(view?.pieces.filter((p) => !p.build.within).map((p) => p.body));
  const bodies = (view?.bodies ?? []).filter((b) => large.has(b.id));
  const free = plan.seams.filter((s) => !s.locked);
  const instead = replace && free.length > 0 && !only;
  const gone = instead ? free.map((s) => s.id) : [];
  // what was found holds for the plan it was asked of
  const asked = JSON.stringify([
    plan.seams,
    plan.printer,
    plan.printers,
    plan.zones,
    plan.show,
    plan.recipe,
    view?.map,
  ]);
  const of = useRef(asked);
  useEffect(() => {
    if (of.current === asked) return;
    of.current = asked;
    setFound([]);
    setRan('not yet');
  }, [asked]);
  // the first of them is shown while none is pointed at
  const [pointed, setPointed] = useState<ProposalView | null>(null);
  const seen = pointed ?? found[0]?.view;
  useEffect(() => {
    onShow(seen && seen.seams.length > 0 ? seen.quads : null);
    return () => onShow(null);
  }, [seen, onShow]);

  const look = async (): Promise<void> => {
    setFound([]);
    setWrong(null);
    setRan('going on');
    const request: Omit<ProposalRequest, 'wishes' | 'effort' | 'alike'> = {
      ...(only && { only }),
      keep: instead ? 'locked' : 'all',
      jointRoom,
      turned,
      ...(longest !== null && longest < longestRoom && { longest }),
      whole,
      still,
    };
    const all: Shown[] = [];
    try {
      for (const { title, ...asking } of variants(wishesOf(leaning), alike)) {
        const next = await search('Looking for seams', (engine, tell) =>
          engine.propose(plan, { ...request, ...asking }, SIZE, tell),
        );
        if (of.current !== asked) return;
        if (!next) break;
        const print = (v: ProposalView): string => JSON.stringify(v.seams.map((s) => [s.origin, s.normal]));
        if (all.some((s) => print(s.view) === print(next))) continue;
        all.push({ title, view: next });
        setFound([...all]);
        if (next.seams.length === 0) break;
      }
      for (const { title, view: seen } of all.length > 0 && all[0].view.seams.length > 0 ? all : []) {
        const found = await search('Joints and poses', (engine, tell) =>
          engine.weigh(plan, takingOf(seen, gone), tell),
        );
        if (of.current !== asked) return;
        if (!found) break;
        setFound((list) => list.map((f) => (f.title === title ? { ...f, weighed: found } : f)));
      }
    } catch (error) {
      setWrong((error as Error).message);
    }
    setRan('done');
  };
  const take = ({ view: taken }: Shown): void => {
    change(`Take a proposal of ${taken.seams.length} seams`, ...takingOf(taken, gone));
    onDone();
  };
  const wishes = wishesOf(leaning);
  const weights = found.map((f) => (f.weighed ? weightOf(f.view.figures, f.weighed, wishes) : null));
  // said when all are weighed, of several
  const least = weights.length > 1 && !weights.includes(null) ? Math.min(...(weights as number[])) : null;
  const nothing = found.length > 0 && found.every((f) => f.view.seams.length === 0);
  return (
    <Part title="Proposal" note={`for ${[plan.printer, ...plan.printers].map((p) => p.name).join(', ')}`}>
      <div className="flex flex-col gap-3">
        <div role="group" aria-label="Wishes" className="flex flex-col gap-1">
          {SLIDERS.map(([key, label]) => (
            <div key={key} className="grid grid-cols-[104px_1fr_64px] items-center gap-2">
              <span className="text-ink-soft text-sm">{label}</span>
              <Slide
                label={label}
                value={leaning[key]}
                min={-2}
                max={2}
                step={1}
                text={levelWord(leaning[key])}
                onChange={(x) => setLeaning({ ...leaning, [key]: x })}
              />
              <span className="text-sm">{levelWord(leaning[key])}</span>
            </div>
          ))}
        </div>
        {chosen && (
          <Choice
            label="What is parted"
            value={which}
            options={[
              { value: 'large', label: 'all that is too large' },
              { value: 'piece', label: `only ${chosen.code}` },
            ]}
            onChange={(x) => setWhich(x)}
          />
        )}
        <Tick tone="cut" checked={alike} onChange={setAlike}>
          same on both sides, where the model is
        </Tick>
        <Tick tone="cut" checked={turned} onChange={setTurned}>
          pieces may lie at a slant on the bed
        </Tick>
        {bodies.length > 1 && (
          <fieldset className="flex max-h-32 flex-col gap-1 overflow-y-auto">
            <legend className="text-ink-soft text-sm">Leave whole</legend>
            {bodies.map((b) => (
              <Tick
                key={b.id}
                tone="cut"
                checked={whole.includes(b.id)}
                onChange={(on) => setWhole(on ? [...whole, b.id] : whole.filter((id) => id !== b.id))}
              >
                {plan.bodies.find((n) => n.id === b.id)?.name || b.name}
              </Tick>
            ))}
          </fieldset>
        )}
        <div className="grid grid-cols-2 items-end gap-2">
          <NumberField
            label="Room for joints on each cut face"
            min={0}
            max={100}
            value={jointRoom}
            onCommit={setJointRoom}
          />
          <NumberField
            label="Longest side of a piece"
            min={4 * jointRoom}
            max={longestRoom}
            value={Math.min(longest ?? longestRoom, longestRoom)}
            onCommit={(x) => setLongest(x < longestRoom ? x : null)}
          />
        </div>
        {still.length > 0 && (
          <p className="text-ink-soft text-sm">
            {still.length === 1
              ? 'One piece is printed already, and stays as it is'
              : `${still.length} pieces are printed already, and stay as they are`}
            , with what bounds it.
          </p>
        )}
        {free.length > 0 && !only && (
          <Tick tone="cut" checked={replace} onChange={setReplace}>
            instead of the {free.length === 1 ? 'seam' : `${free.length} seams`} there are
            {free.length < plan.seams.length && ', but for those that are locked'}
          </Tick>
        )}
        {ran === 'going on' ? (
          searching && <Working label="Search for seams" working={searching} />
        ) : (
          <div className="flex gap-2">
            <Button look={found.length === 0 ? 'main' : 'plain'} disabled={!view} onClick={() => void look()}>
              {found.length === 0 ? 'Look for seams' : 'Look again'}
            </Button>
            <Button onClick={onDone}>Leave it</Button>
          </div>
        )}
        <div role="status">
          {wrong && <p className="text-stop">{wrong}</p>}
          {nothing && <p className="text-good">Everything fits already.</p>}
          {ran === 'done' && found.length === 0 && !wrong && (
            <p className="text-ink-soft">The search was ended before it had an answer.</p>
          )}
        </div>
        {found.length > 0 && !nothing && (
          <ul aria-label="Proposals" className="flex flex-col gap-2">
            {found.map((f, i) => (
              <Card
                key={f.title}
                shown={f}
                best={least !== null && weights[i] === least}
                onPoint={(on) => setPointed(on ? f.view : null)}
                onTake={() => take(f)}
              />
            ))}
          </ul>
        )}
      </div>
    </Part>
  );
}

function Card({
  shown: { title, view, weighed },
  best,
  onPoint,
  onTake,
}: {
  shown: Shown;
  best: boolean;
  onPoint: (on: boolean) => void;
  onTake: () => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    context?.putImageData(new ImageData(new Uint8ClampedArray(view.pixels), ...SIZE), 0, 0);
  }, [view.pixels]);
  const { figures: f } = view;
  const rows = [
    ['Pieces', String(f.pieces)],
    ['Seams', String(view.seams.length)],
    ['Glued', `${(f.seamArea / 100).toFixed(0)} cm²`],
    ['Seen', `${(f.seenLength / 1000).toFixed(2)} m`],
    ...(view.unlike === null
      ? []
      : [['Both sides', view.unlike === 0 ? 'the same' : `${view.unlike} differ`] as const]),
    ...(weighed
      ? ([
          ['Printing', hoursText(weighed.hours)],
          ['Support', `${weighed.support.toFixed(0)} g`],
          ['Bare faces', String(weighed.bare)],
          ...(weighed.refused > 0 ? [['Joints refused', String(weighed.refused)] as const] : []),
        ] as const)
      : []),
  ] as const;
  return (
    <li
      className="grid grid-cols-[132px_1fr] gap-2 border-rule border-t pt-2"
      onMouseEnter={() => onPoint(true)}
      onMouseLeave={() => onPoint(false)}
      onFocus={() => onPoint(true)}
      onBlur={() => onPoint(false)}
    >
      <canvas ref={canvas} width={SIZE[0]} height={SIZE[1]} aria-hidden className="block bg-paper" />
      <div className="min-w-0">
        <p className="font-semibold">{title}</p>
        {best && <p className="text-good text-sm">Best by these figures and your wishes</p>}
        <dl className="grid grid-cols-[auto_1fr] gap-x-2 text-sm leading-[17px]">
          {rows.map(([name, text]) => (
            <div key={name} className="contents">
              <dt className="text-ink-soft">{name}</dt>
              <dd className="num text-right">{text}</dd>
            </div>
          ))}
        </dl>
        {f.fits < f.pieces && <p className="text-sm text-stop">{f.pieces - f.fits} still too large</p>}
        <Button look="main" className="mt-1 h-7 w-full" aria-label={`Take the proposal ${title}`} onClick={onTake}>
          Take it
        </Button>
      </div>
    </li>
  );
}
