import { converted, flatOfPart, kindOf, type Seam, type Severity } from '@gephyra/core/plan';
import type { EvaluationView, FaceView, JointView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { seamTitle } from '../../project/seam-math.ts';
import { LongList } from '../../ui/long-list.tsx';
import { type MenuEntry, Offers } from '../../ui/menu.tsx';
import { KINDS } from './kinds.ts';

interface Props {
  readonly open: string | null;
  readonly selected: string | null;
  readonly troubled: ReadonlyMap<string, 'stop' | 'warn'>;
  readonly onFace: (id: string) => void;
  readonly onJoint: (id: string) => void;
}

const NO_FACES: readonly FaceView[] = [];

const WORST: Record<Severity, { word: string; look: string }> = {
  stop: { word: 'stop', look: 'text-stop' },
  warn: { word: 'mind', look: 'text-warn' },
  note: { word: 'note', look: 'text-ink-soft' },
};

/** Every mating face with the number of its joints and its worst finding; the open one with its joints. */
export function FaceList({ open, selected, troubled, onFace, onJoint }: Props) {
  const { view } = useProject();
  const faces = view?.faces.filter((f) => f.alternate === undefined) ?? NO_FACES;
  const adrift = view?.joints.filter((j) => j.face === null) ?? [];
  return (
    <>
      <LongList
        label="Mating faces"
        items={faces}
        keyOf={(f) => f.id}
        about={33}
        chosen={faces.findIndex((f) => f.id === open)}
        className="flex flex-col"
      >
        {(f) => (
          <FaceRow
            face={f}
            open={f.id === open}
            selected={selected}
            troubled={troubled}
            onFace={() => onFace(f.id)}
            onJoint={onJoint}
          />
        )}
      </LongList>
      {adrift.length > 0 && (
        <>
          <h2 className="mt-4 mb-1 text-base">Off every face</h2>
          <ul>
            {adrift.map((j) => (
              <li key={j.id}>
                <JointRow joint={j} selected={j.id === selected} trouble="stop" onSelect={() => onJoint(j.id)} />
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function FaceRow({
  face,
  open,
  selected,
  troubled,
  onFace,
  onJoint,
}: {
  face: FaceView;
  open: boolean;
  selected: string | null;
  troubled: ReadonlyMap<string, 'stop' | 'warn'>;
  onFace: () => void;
  onJoint: (id: string) => void;
}) {
  const { plan, view } = useProject();
  const seam = plan.seams.find((s) => s.id === face.seam);
  const codes = face.pieces.map((_, side) => sideWords(face, side, view));
  const joints = view?.joints.filter((j) => j.face === face.id) ?? [];
  const severities = view?.findings.filter((f) => f.where.face === face.id).map((f) => f.severity) ?? [];
  const worst = (['stop', 'warn'] as const).find((s) => severities.includes(s));
  const title = face.contact ? 'touching' : seam ? seamTitle(seam) : '';
  return (
    <div
      className={`border-rule border-t ${open ? '-mx-3.5 border-l-[3px] border-l-lapis bg-lapis-wash/50 pr-3.5 pl-[11px]' : ''}`}
    >
      <button
        type="button"
        className="flex w-full items-baseline justify-between gap-2 py-1.5 text-left"
        aria-current={open}
        onClick={onFace}
      >
        <span className="min-w-0 truncate">
          <strong className="font-semibold">
            {codes[0]} to {codes[1]}
          </strong>{' '}
          <span className="text-ink-soft">
            {title}
            {partWords(face.part, seam)}
          </span>
        </span>{' '}
        <span className="flex items-baseline gap-1.5 whitespace-nowrap text-sm">
          {worst && joints.length > 0 && <span className={WORST[worst].look}>{WORST[worst].word}</span>}{' '}
          <span className={joints.length === 0 ? 'text-warn' : 'num text-[12px] text-ink-soft'}>
            {joints.length === 0 ? 'no joint' : joints.length === 1 ? '1 joint' : `${joints.length} joints`}
          </span>
        </span>
      </button>
      {open && joints.length > 0 && (
        <ul className="pb-1.5 pl-3">
          {joints.map((j) => (
            <li key={j.id}>
              <JointRow
                joint={j}
                selected={j.id === selected}
                trouble={troubled.get(j.id) ?? null}
                onSelect={() => onJoint(j.id)}
              />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function JointRow({
  joint,
  selected,
  trouble,
  onSelect,
}: {
  joint: JointView;
  selected: boolean;
  trouble: 'stop' | 'warn' | null;
  onSelect: () => void;
}) {
  const { plan, change } = useProject();
  const own = plan.joints.find((j) => j.id === joint.id);
  if (!own) return null;
  const { name } = kindOf(own);
  const offers: readonly MenuEntry[] = [
    { title: 'Show it', run: onSelect },
    ...KINDS.filter((k) => k.value !== own.kind).map(
      ({ value, label }, i): MenuEntry => ({
        title: `Make it a ${label}`,
        apart: i === 0,
        run: () => void change(`Make ${joint.id} a ${label}`, { do: 'putJoint', joint: converted(own, value) }),
      }),
    ),
    {
      title: 'Delete it',
      danger: true,
      apart: true,
      run: () => void change(`Delete ${name} ${joint.id}`, { do: 'removeJoint', id: joint.id }),
    },
  ];
  return (
    <Offers entries={offers}>
      <button
        type="button"
        aria-current={selected}
        onClick={onSelect}
        className={`flex w-full items-baseline justify-between gap-2 rounded px-1.5 py-0.5 text-left ${selected ? 'bg-lapis text-sheet' : 'hover:bg-paper-deep'}`}
      >
        <span className="truncate">
          {joint.id} {kindOf(own).title(own)}
        </span>{' '}
        <span className="flex items-baseline gap-1.5 whitespace-nowrap">
          {trouble && <span className={`text-sm ${selected ? '' : WORST[trouble].look}`}>{WORST[trouble].word}</span>}{' '}
          <span className="num text-[12px]">{kindOf(own).sizes(own)}</span>
        </span>
      </button>
    </Offers>
  );
}

/** The piece on a side of a face, with those that take its place: "B1 or C1". */
function sideWords(face: FaceView, side: number, view: EvaluationView | null): string {
  const others = view?.faces.filter((f) => f.alternate !== undefined && f.plane === face.plane) ?? [];
  const keys = new Set([face.pieces[side], ...others.map((f) => f.pieces[side])]);
  return [...keys].map((key) => view?.pieces.find((p) => p.key === key)?.code ?? '?').join(' or ');
}

/** Which of a seam's faces one is. */
function partWords(part: number | undefined, seam: Seam | undefined): string {
  if (part === undefined || !seam || seam.kind === 'flat') return '';
  const flat = flatOfPart(seam, part);
  return flat ? `, flat ${flat.n + 1}` : `, ${part + 1}`;
}
