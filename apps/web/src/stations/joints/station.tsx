import {
  freeId,
  type Joint,
  type JointKind,
  jointSchema,
  kindOf,
  newJoint,
  type PlanChange,
  wallLimits,
} from '@gephyra/core/plan';
import { useEffect, useMemo, useRef, useState } from 'react';
import { latest } from '../../engine/engine.ts';
import type { FaceHelp } from '../../engine/joints.ts';
import type { FaceView, JointView } from '../../engine/types.ts';
import { useEquipment } from '../../equipment/use-equipment.ts';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { useSelection, useStationView, useWorkspace } from '../../project/selection.tsx';
import type { Swung } from '../../project/shown.ts';
import { useSearch } from '../../project/use-search.ts';
import { Button } from '../../ui/button.tsx';
import { Ledger, Part, Side } from '../../ui/panels.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Tabs } from '../../ui/tabs.tsx';
import { Working } from '../../ui/working.tsx';
import { Arrange } from './arrange.tsx';
import { bookOf } from './book.ts';
import { FaceList } from './face-list.tsx';
import { Book, FacePanel, type Opened } from './face-panel.tsx';
import { FitPanel } from './fit-panel.tsx';
import { JointDetails } from './joint-details.tsx';
import { fromPreset, KINDS } from './kinds.ts';
import { LooseList } from './loose-list.tsx';
import { SeatPanel, useSeat } from './seat-panel.tsx';
import { SwingPanel } from './swing-panel.tsx';
import { usePlaces } from './use-place.ts';

const TABS = ['joint', 'face', 'fits'] as const;
type Tab = (typeof TABS)[number];

/** Joints: mating faces and what is on them, the face drawn flat, seating, sizes, fits and numbers. */
export default function JointsStation() {
  const { plan, view, change } = useProject();
  const { equipment } = useEquipment();
  const [{ joint: jointId, face: faceId, tool }, select] = useSelection();
  const chooseJoint = (joint: string): void => select({ joint });
  const faces = view?.faces.filter((f) => f.alternate === undefined) ?? [];
  const placed = view?.joints.find((j) => j.id === jointId) ?? null;
  const face = faces.find((f) => f.id === (placed?.face ?? faceId)) ?? faces[0] ?? null;
  const joint = plan.joints.find((j) => j.id === jointId) ?? null;
  const tab: Tab = TABS.find((t) => t === tool) ?? (joint ? 'joint' : 'face');
  const placeOf = usePlaces();
  const seatings = useSeat();
  const [what, setWhat] = useState<string>('key');
  const [opened, setOpened] = useState<Opened>({ how: 'together', share: 1 });
  const help = useFaceHelp(face);
  const { live, moving } = useLive();
  const [swung, setSwung] = useState<Swung | null>(null);
  useOpenedView(face, opened, swung);
  const here = view?.joints.filter((j) => face && j.face === face.id) ?? [];
  const troubled = useMemo(() => {
    const worst = new Map<string, 'stop' | 'warn'>();
    for (const { where, severity } of view?.findings ?? []) {
      if (!where.joint || severity === 'note') continue;
      if (severity === 'stop' || !worst.has(where.joint)) worst.set(where.joint, severity);
    }
    return worst;
  }, [view]);

  const add = (target: FaceView, u: number, v: number): void => {
    const id = freeId('j', plan.joints);
    const at = placeOf(target).toSource([u, v]);
    const common = { id, seam: target.seam, at, ...(target.part !== undefined && { part: target.part }) };
    const preset = equipment.presets.find((p) => `preset ${p.name}` === what);
    const { warn } = wallLimits(plan.printer);
    const room =
      help?.room && target.id === face?.id ? Math.max(1.5, target.pole.distance - warn - 0.2) : target.pole.distance;
    const kind = (KINDS.find((k) => k.value === what)?.value ?? 'key') as JointKind;
    const made: Joint | null = preset
      ? fromPreset(preset.joint, common)
      : jointSchema.parse(
          newJoint(kind, common, kindOf({ kind }).follows === 'wall' ? target.pole.distance - 0.1 : Math.min(10, room)),
        );
    if (!made) return;
    const keep: PlanChange[] = target.contact && view ? [{ do: 'addContacts', contacts: view.contacts }] : [];
    const ids = change(`Add ${kindOf(made).name} ${id}`, ...keep, { do: 'addJoint', joint: made });
    select({ joint: ids.get(id) ?? id, tool: null });
  };
  const faceFindings = view?.findings.filter((f) => face && f.where.face === face.id) ?? [];

  const about = (
    <>
      {tab === 'joint' &&
        (joint ? (
          <>
            <JointDetails joint={joint} placed={placed} face={face} live={live?.id === joint.id ? live : null} />
            {placed && kindOf(joint).swings && <SwingPanel joint={placed} onSwung={setSwung} />}
            {face && kindOf(joint).follows === 'place' && (
              <Part title="Arrange">
                <Arrange face={face} joint={joint} here={here} help={help} />
              </Part>
            )}
          </>
        ) : (
          face && (
            <Part title="Joint">
              <p className="text-ink-soft">
                No joint is chosen. Click the face to place one, or choose one; drag it, or nudge it with the arrow
                keys.
              </p>
            </Part>
          )
        ))}
      {tab === 'face' && face && (
        <>
          <Part title="Seating">
            <SeatPanel face={face} seatings={seatings} />
          </Part>
          <Book face={face} opened={opened} onOpened={setOpened} />
          <Part title="Findings">
            <Findings list={faceFindings} empty="Nothing to mend on this face." />
          </Part>
        </>
      )}
      {tab === 'fits' && <FitPanel face={face} joint={joint} />}
    </>
  );
  return (
    <>
      <Ledger
        title="Joints"
        action={
          <Button
            look="main"
            disabled={faces.length === 0 || seatings.busy}
            onClick={() => void seatings.seat('Seat joints on all bare faces', null, 'auto', 40)}
          >
            {seatings.busy ? 'Seating' : 'Seat joints'}
          </Button>
        }
      >
        {seatings.searching && (
          <div className="mb-2">
            <Working label="Seating" working={seatings.searching} />
          </div>
        )}
        {faces.length === 0 ? (
          <p className="text-ink-soft">
            No mating face yet. Where a seam parts the model, or two bodies lie against each other, the two sides show
            here, ready for joints.
          </p>
        ) : (
          <div className="mb-3 flex items-end gap-2">
            <Pick
              label="Kind to add"
              value={what}
              options={
                [...KINDS, ...equipment.presets.map((p) => ({ value: `preset ${p.name}`, label: p.name }))] as {
                  value: string;
                  label: string;
                }[]
              }
              onChange={(next) => setWhat(next)}
            />
            <Button disabled={!face} onClick={() => face && add(face, ...freePlace(face, here))}>
              Add
            </Button>
          </div>
        )}
        <FaceList
          open={face?.id ?? null}
          selected={jointId}
          troubled={troubled}
          onFace={(id) => select({ face: id, joint: null, tool: null })}
          onJoint={(id) => select({ joint: id, tool: null })}
        />
        <Refit seatings={seatings} />
        <LooseList />
      </Ledger>
      <Side>
        {face ? (
          <FacePanel
            face={face}
            joints={here}
            selected={jointId}
            troubled={troubled}
            help={help}
            live={live}
            onSelect={chooseJoint}
            onPlace={(u, v) => add(face, u, v)}
            onMoving={(at) => {
              const own = at && plan.joints.find((j) => j.id === at.id);
              moving(own ? { ...own, at: placeOf(face).toSource([at.u, at.v]) } : null);
            }}
            onMove={(id, u, v) =>
              change(`Move ${id}`, { do: 'setJoint', id, set: { at: placeOf(face).toSource([u, v]) } })
            }
          />
        ) : (
          <Part title="Mating face">
            <p className="text-ink-soft">Place a seam first, and its faces can be joined here.</p>
          </Part>
        )}
        {face ? (
          <Tabs label="About" tabs={TABS} chosen={tab} onChoose={(t) => select({ tool: t })}>
            {about}
          </Tabs>
        ) : (
          about
        )}
      </Side>
    </>
  );
}

/** Offers to make joints smaller that no longer hold, or to seat their faces anew, all at once. */
function Refit({ seatings }: { seatings: ReturnType<typeof useSeat> }) {
  const { plan, view, change } = useProject();
  const { searching, search } = useSearch();
  const [left, setLeft] = useState<readonly string[]>([]);
  const stopped = new Set(
    view?.findings.flatMap((f) =>
      f.severity === 'stop' && f.where.joint && f.code !== 'joint.offFace' ? [f.where.joint] : [],
    ),
  );
  if (stopped.size === 0) return null;
  const faces = [...new Set(view?.joints.flatMap((j) => (stopped.has(j.id) && j.face ? [j.face] : [])))];
  return (
    <section aria-label="Joints that do not hold" className="mt-4 border-stop border-l-[3px] bg-stop-wash px-2.5 py-2">
      <p className="mb-1.5">
        {stopped.size === 1 ? 'One joint does' : `${stopped.size} joints do`} not hold and will not be built.
      </p>
      <Button
        onClick={async () => {
          const found = await search('Trying smaller sizes', (engine) => engine.refit(plan));
          if (found?.change) change('Make joints smaller', found.change);
          setLeft(found?.left ?? []);
        }}
      >
        {stopped.size === 1 ? 'Make it smaller' : 'Make them smaller'}
      </Button>{' '}
      <Button disabled={seatings.busy} onClick={() => void seatings.seat('Seat faces anew', faces, 'auto', 40)}>
        Seat anew
      </Button>
      {searching && <Working label="Making joints smaller" working={searching} />}
      {left.length > 0 && <p className="mt-1.5 text-stop">No size would hold for {left.join(', ')}.</p>}
    </section>
  );
}

/** Room, axis and wall's middle of the open face, once the worker has them. */
function useFaceHelp(face: FaceView | null): FaceHelp | null {
  const { engine, plan, busy } = useProject();
  const [found, setFound] = useState<{ outer: Float64Array; help: FaceHelp | null } | null>(null);
  const outer = face?.outer ?? null;
  const id = face?.id;
  const asked = useRef(plan);
  asked.current = plan;
  useEffect(() => {
    if (!engine || !id || !outer || busy) return;
    let alive = true;
    engine.faceHelp(asked.current, id).then(
      (help) => alive && setFound({ outer, help }),
      () => {},
    );
    return () => {
      alive = false;
    };
  }, [engine, id, outer, busy]);
  return found && found.outer === outer ? found.help : null;
}

/** What is measured of a joint while it moves. */
function useLive(): { live: JointView | null; moving: (joint: Joint | null) => void } {
  const { engine, plan } = useProject();
  const [live, setLive] = useState<JointView | null>(null);
  const wanted = useRef<string | null>(null);
  const asked = useRef(plan);
  asked.current = plan;
  const check = useMemo(
    () =>
      engine
        ? latest(
            (joint: Joint) => engine.checkJoint(asked.current, joint),
            ({ view, findings }) => {
              if (!view || view.id !== wanted.current) return;
              setLive({ ...view, built: view.built && !findings.some((f) => f.severity === 'stop') });
            },
            () => setLive(null),
          )
        : null,
    [engine],
  );
  return {
    live,
    moving: (joint) => {
      wanted.current = joint?.id ?? null;
      if (joint) check?.(joint);
      else setLive(null);
    },
  };
}

/** What the 3D view shows: the face, its two pieces opened or sliding, or what is swung. */
function useOpenedView(face: FaceView | null, opened: Opened, swung: Swung | null): void {
  const { view } = useProject();
  const { apart, setApart } = useWorkspace();
  const was = useRef(false);
  const any = (view?.faces.length ?? 0) > 0;
  // mating faces are hidden while the pieces are together
  useEffect(() => {
    if (!was.current && apart === 0 && any) setApart(48);
    was.current ||= any;
  }, [apart, setApart, any]);
  useStationView(
    useMemo(() => {
      const book = face && view && opened.how === 'book' ? bookOf(face, view) : null;
      const way = face && view?.ways.find((w) => w.faces.includes(face.id));
      const slide =
        face && view && opened.how === 'slide' && way?.out
          ? { stays: way.groups[0], moves: way.groups[1], way: way.out, share: opened.share }
          : null;
      return swung ? { swung } : { highlightFace: book ? null : face, book, slide };
    }, [face, view, opened, swung]),
  );
}

/** A place for the next joint: the roomiest, or across the middle from those that are there. */
function freePlace(face: FaceView, joints: readonly JointView[]): [number, number] {
  const { u, v, distance } = face.pole;
  if (joints.length === 0) return [u, v];
  const last = joints[joints.length - 1];
  if (Math.hypot(last.u - u, last.v - v) > distance * 0.3) return [2 * u - last.u, 2 * v - last.v];
  return [u + distance * 0.5, v];
}
