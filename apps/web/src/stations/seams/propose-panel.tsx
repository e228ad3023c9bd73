import { frozenPieces, type Wishes, weightOf } from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import type { ProposalView } from '../../engine/proposals.ts';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { Slide } from '../../ui/slide.tsx';
import { Tick } from '../../ui/tick.tsx';
import { Working } from '../../ui/working.tsx';
import { ProposalCard } from './proposal-card.tsx';
import { type Leaning, levelWord, takingOf, wishesOf } from './proposing.ts';
import { type Shown, useProposals } from './use-proposals.ts';

const SLIDERS = [
  ['few', 'Fewer pieces'],
  ['hidden', 'Hidden seams'],
  ['print', 'Easier printing'],
] as const satisfies readonly (readonly [keyof Wishes, string])[];

/** Seams found by search: what is wished for, what was found, side by side, and one of them taken as one step. */
export function ProposePanel({ onShow, onDone }: { onShow: (quads: Float32Array | null) => void; onDone: () => void }) {
  const { plan, view, change } = useProject();
  const wish = useWish();
  const { found, wrong, ran, searching, look } = useProposals();
  const { leaning, gone } = wish;
  // the first of them is shown while none is pointed at
  const [pointed, setPointed] = useState<ProposalView | null>(null);
  const seen = pointed ?? found[0]?.view;
  useEffect(() => {
    onShow(seen && seen.seams.length > 0 ? seen.quads : null);
    return () => onShow(null);
  }, [seen, onShow]);
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
        <WishFields {...wish} />
        {ran === 'going on' ? (
          searching && <Working label="Search for seams" working={searching} />
        ) : (
          <div className="flex gap-2">
            <Button look={found.length === 0 ? 'main' : 'plain'} disabled={!view} onClick={() => void look(wish)}>
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
              <ProposalCard
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

/** What is wished for of the seams, and the search that it comes to. */
function useWish() {
  const { plan, view } = useProject();
  const [{ piece }] = useSelection();
  const [leaning, setLeaning] = useState<Leaning>({ few: 0, hidden: 0, print: 0 });
  const [jointRoom, setJointRoom] = useState(8);
  const [which, setWhich] = useState<'large' | 'piece'>('large');
  const [replace, setReplace] = useState(true);
  const [alike, setAlike] = useState(true);
  const [turned, setTurned] = useState(false);
  const [longest, setLongest] = useState<number | null>(null);
  const [whole, setWhole] = useState<readonly string[]>([]);
  const still = [...frozenPieces(plan.log ?? []).keys()];
  const longestRoom = Math.max(...[plan.printer, ...plan.printers].flatMap((p) => p.size));
  const chosen = view?.pieces.find((p) => p.key === piece);
  const only = which === 'piece' && chosen ? [chosen.key] : undefined;
  // only what is too large is parted
  const large = new Set(view?.pieces.filter((p) => !p.build.within).map((p) => p.body));
  const free = plan.seams.filter((s) => !s.locked);
  const instead = replace && free.length > 0 && !only;
  const request = {
    ...(only && { only }),
    keep: instead ? ('locked' as const) : ('all' as const),
    jointRoom,
    turned,
    ...(longest !== null && longest < longestRoom && { longest }),
    whole,
    still,
  };
  return {
    request,
    gone: instead ? free.map((s) => s.id) : [],
    leaning,
    setLeaning,
    jointRoom,
    setJointRoom,
    which,
    setWhich,
    replace,
    setReplace,
    alike,
    setAlike,
    turned,
    setTurned,
    /** mm; never more than the largest printer has room for */
    longest: Math.min(longest ?? longestRoom, longestRoom),
    longestRoom,
    setLongest: (x: number): void => setLongest(x < longestRoom ? x : null),
    whole,
    setWhole,
    /** keys of pieces that are printed */
    still,
    /** the piece that is chosen, and whether only that is parted */
    chosen,
    only,
    bodies: (view?.bodies ?? []).filter((b) => large.has(b.id)),
    /** seams that may go for others */
    free,
  };
}

/** The fields of what is wished for. */
function WishFields(wish: ReturnType<typeof useWish>) {
  const { plan } = useProject();
  const { leaning, setLeaning, chosen, bodies, whole, setWhole, still, free } = wish;
  return (
    <>
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
          value={wish.which}
          options={[
            { value: 'large', label: 'all that is too large' },
            { value: 'piece', label: `only ${chosen.code}` },
          ]}
          onChange={(x) => wish.setWhich(x)}
        />
      )}
      <Tick tone="cut" checked={wish.alike} onChange={wish.setAlike}>
        same on both sides, where the model is
      </Tick>
      <Tick tone="cut" checked={wish.turned} onChange={wish.setTurned}>
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
          value={wish.jointRoom}
          onCommit={wish.setJointRoom}
        />
        <NumberField
          label="Longest side of a piece"
          min={4 * wish.jointRoom}
          max={wish.longestRoom}
          value={wish.longest}
          onCommit={wish.setLongest}
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
      {free.length > 0 && !wish.only && (
        <Tick tone="cut" checked={wish.replace} onChange={wish.setReplace}>
          instead of the {free.length === 1 ? 'seam' : `${free.length} seams`} there are
          {free.length < plan.seams.length && ', but for those that are locked'}
        </Tick>
      )}
    </>
  );
}
