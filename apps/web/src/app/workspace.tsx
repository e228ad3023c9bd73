import type { Project } from '@gephyra/contract';
import { makeFrame, type Plan, perAxis, spareBodies, vecOf } from '@gephyra/core/plan';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link, Navigate, Outlet, useBlocker, useLocation, useParams } from 'react-router';
import useSWR from 'swr';
import { api } from '../api/client.ts';
import { latest } from '../engine/engine.ts';
import type { EvaluationView, FrameView, PieceView, Triple } from '../engine/types.ts';
import { UnderWayDialog } from '../pages/under-way.tsx';
import { ProjectProvider, useProject } from '../project/project.tsx';
import { useSelection, useWorkspace, WorkspaceProvider } from '../project/selection.tsx';
import type { Filled, Shown } from '../project/shown.ts';
import { STATIONS } from '../stations/registry.ts';
import type { Station } from '../stations/station.ts';
import { Bar } from '../ui/bar.tsx';
import { Button } from '../ui/button.tsx';
import { Question } from '../ui/question.tsx';
import { View3D } from '../view/view-3d.tsx';
import { useCommands } from './commands.ts';
import { ExportDialog } from './export-dialog.tsx';
import { FindingsDialog } from './findings-dialog.tsx';
import { Frame } from './frame.tsx';
import { FrozenDialog } from './frozen-question.tsx';
import { Header } from './header.tsx';
import { Help } from './help.tsx';
import { Opening } from './opening.tsx';
import { Palette } from './palette.tsx';
import { PrintableDialog } from './printable.tsx';
import { Shelf } from './shelf.tsx';
import { usePrintEnds } from './use-print-ends.ts';
import { usePrintedWatch } from './use-printed-watch.ts';
import { ViewTools } from './view-tools.tsx';

let openings = 0;

/** Loads a project and opens it at the station in the address. */
export default function ProjectPage() {
  const { projectId = '' } = useParams();
  // every opening asks the server: an older copy would be edited on a revision that has passed
  const [opening] = useState(() => ++openings);
  const { data, error } = useSWR<Project, Error>(`project ${projectId} ${opening}`, () => api.project(projectId), {
    revalidateOnFocus: false,
    revalidateIfStale: true,
    revalidateOnReconnect: false,
  });
  if (error && !data) {
    return (
      <main className="m-auto max-w-md p-8">
        <h1 className="mb-2 text-xl">This project cannot be opened</h1>
        <p className="mb-4">{error.message}</p>
        <Link to="/" className="text-lapis underline underline-offset-2">
          All projects
        </Link>
      </main>
    );
  }
  if (!data) return <Opening />;
  return (
    <ProjectProvider key={data.id} initial={data}>
      <WorkspaceProvider>
        <Workspace />
      </WorkspaceProvider>
    </ProjectProvider>
  );
}

function useStation(): Station | undefined {
  const last = useLocation().pathname.split('/').at(-1);
  return STATIONS.find((s) => s.id === last);
}

/** The page of the station in the address, the first where there is none of that name. */
export function StationPage() {
  const station = useStation();
  if (!station) return <Navigate to={`../${STATIONS[0].id}`} replace />;
  return <station.page />;
}

function Workspace() {
  const { folded, swapped, setSwapped, panel, open } = useWorkspace();
  const swap = useCallback(() => setSwapped(!swapped), [swapped, setSwapped]);
  const station = useStation() ?? STATIONS[0];
  useShortcuts();
  usePrintedWatch();
  usePrintEnds();
  return (
    <div className="flex h-dvh w-screen flex-col overflow-hidden">
      <Header />
      <Frame
        station={station}
        folded={folded}
        swapped={swapped}
        onSwap={swap}
        view={(small) => <ModelView small={small} />}
        shelf={<Shelf />}
      >
        <Outlet />
      </Frame>
      {panel === 'export' && <ExportDialog onClose={() => open(null)} />}
      {panel === 'findings' && <FindingsDialog onClose={() => open(null)} />}
      {panel === 'help' && <Help onClose={() => open(null)} />}
      {panel === 'palette' && <Palette onClose={() => open(null)} />}
      {panel === 'printable' && <PrintableDialog onClose={() => open(null)} />}
      {panel === 'work' && <UnderWayDialog onClose={() => open(null)} />}
      <FrozenDialog />
      <Leaving />
    </div>
  );
}

/** Asks before a project is left whose last changes the server does not have. */
function Leaving() {
  const { project, saveState, retry } = useProject();
  const blocker = useBlocker(
    ({ nextLocation }) => saveState === 'unsaved' && !nextLocation.pathname.startsWith(`/p/${project.id}/`),
  );
  if (blocker.state !== 'blocked') return null;
  return (
    <Question
      title="Your last changes are not saved"
      yes="Leave without them"
      no="Stay"
      onYes={() => blocker.proceed()}
      onNo={() => {
        blocker.reset();
        retry();
      }}
    >
      <p>The server could not be told of them. If you stay, it is tried again; if you leave, they are lost.</p>
    </Question>
  );
}

/** The one 3D view, kept from station to station. */
/** Bodies that are not drawn because another one is in their place: the chosen one, else the one that is on. */
function leftOff(plan: Plan, view: EvaluationView | null, chosen: string | null): string[] {
  const sets = plan.alternates.map((s) => (chosen !== null && s.bodies.includes(chosen) ? { ...s, shown: chosen } : s));
  return [...spareBodies(sets, view?.bodies.map((b) => b.id) ?? [])];
}

function ModelView({ small }: { small: boolean }) {
  const { plan, view, failure, busy, shaping, retryShape, undo } = useProject();
  const { apart, seeThrough, station, picker, setPicker, only, near } = useWorkspace();
  const clip = useClip(station.sheet?.frame ?? null);
  const [{ piece: selectedPiece, body }, select] = useSelection();
  const chosenBody = body ?? view?.pieces.find((p) => p.key === selectedPiece)?.body ?? null;
  const hidden = useMemo(
    () => [...plan.bodies.filter((b) => b.hidden).map((b) => b.id), ...leftOff(plan, view, chosenBody)],
    [plan, view, chosenBody],
  );
  const piece = view?.pieces.find((p) => p.key === selectedPiece);
  const printer = plan.printer.size;
  const pieceCrate = useMemo(() => (piece ? crateRound(piece, printer) : null), [piece, printer]);
  const shown = useMemo(
    (): Shown => ({
      selectedPiece,
      apart: station.plain ? 0 : apart,
      seeThrough,
      plain: station.plain ?? false,
      crate: station.crate ?? (station.lying ? null : pieceCrate),
      sheet: station.sheet ?? null,
      quads: station.quads ?? null,
      boxes: station.boxes ?? [],
      clip: station.dragging ? null : clip,
      only,
      dragging: station.dragging ?? null,
      highlightFace: station.highlightFace ?? null,
      book: station.book ?? null,
      slide: station.slide ?? null,
      swung: station.swung ?? null,
      build: station.build ?? null,
      lying: station.lying ?? null,
      hidden: station.hidden ?? hidden,
      selectedBody: station.selectedBody ?? null,
      markers: station.markers ?? [],
      path: station.path ?? null,
      focus: station.focus ?? null,
    }),
    [selectedPiece, apart, seeThrough, station, pieceCrate, hidden, clip, only],
  );
  const size = view?.box.max.map((x, a) => x - view.box.min[a]);
  return (
    <View3D
      shown={shown}
      onPick={(picked) => {
        const body = view?.pieces.find((p) => p.key === picked)?.body ?? null;
        select(station.plain ? { body } : { piece: picked });
      }}
      picker={picker}
      onCancelPick={() => setPicker(null)}
      near={near}
      small={small}
      tools={station.lying || station.build ? null : <ViewTools />}
      caption={
        failure ? (
          <span className="flex items-center gap-3 text-stop">
            {failure}
            {retryShape && <Button onClick={retryShape}>Try again</Button>}
            {retryShape && undo && <Button onClick={undo}>Undo the last step</Button>}
          </span>
        ) : shaping ? (
          <span className="flex items-center gap-3">
            <Bar label="Work on the model" share={shaping.progress} className="w-32" />
            {shaping.what}
            <Button className="h-7" onClick={shaping.cancel}>
              Cancel
            </Button>
          </span>
        ) : station.lying ? (
          <span className="num">{station.lying.caption}</span>
        ) : size ? (
          <span>
            <span className="num">{size.map((x) => x.toFixed(1)).join(' × ')} mm</span>
            {busy && <span className="ml-2 text-ink-soft">computing</span>}
            {view?.lighter && (
              <span className="ml-2 text-ink-soft">drawn with fewer triangles; numbers and files are of all</span>
            )}
          </span>
        ) : (
          <span className="text-ink-soft">Reading the model</span>
        )
      }
    />
  );
}

/** The plane at which the view is clipped, with the section there filled in once it is known. */
function useClip(seam: FrameView | null): Shown['clip'] {
  const { view, engine } = useProject();
  const { clip } = useWorkspace();
  const [fill, setFill] = useState<{ frame: FrameView; filled: Filled } | null>(null);
  const box = view?.box;
  const frame = useMemo((): FrameView | null => {
    if (clip.by === 'off' || !box) return null;
    if (clip.by === 'seam') return seam;
    const axis = ['x', 'y', 'z'].indexOf(clip.by);
    const normal = vecOf((a) => (a === axis ? 1 : 0));
    const origin = perAxis(box.min, (x, a) => (a === axis ? x + clip.share * (box.max[a] - x) : x));
    return makeFrame(origin, normal);
  }, [clip, box, seam]);
  const request = useMemo(
    () =>
      engine
        ? latest(
            async (wanted: FrameView) => ({ frame: wanted, filled: await engine.filled(wanted) }),
            setFill,
            () => setFill(null),
          )
        : null,
    [engine],
  );
  useEffect(() => {
    if (frame) request?.(frame);
  }, [frame, request]);
  return useMemo(() => {
    if (!frame) return null;
    const sign = clip.turned ? -1 : 1;
    return {
      normal: perAxis(frame.normal, (x) => x * sign),
      offset: frame.offset * sign,
      fill: fill?.frame === frame ? fill.filled : null,
    };
  }, [frame, fill, clip.turned]);
}

/** The printer's volume round a piece, in the pose in which it fits best. */
function crateRound(piece: PieceView, printer: Triple): NonNullable<Shown['crate']> {
  const size: [number, number, number] = [0, 0, 0];
  piece.build.axes.forEach((side, axis) => {
    size[side] = printer[axis];
  });
  const foot = piece.build.axes[2];
  const at = perAxis(size, (s, a) => (a === foot ? piece.box.min[a] : (piece.box.min[a] + piece.box.max[a] - s) / 2));
  return { size, at, follows: true };
}

/** Runs commands by key, unless something is being typed. */
function useShortcuts(): void {
  const commands = useCommands();
  const { panel } = useWorkspace();
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (panel) return;
      const field =
        event.target instanceof HTMLElement &&
        event.target.closest(
          'input, textarea, [role=combobox], [role=listbox], [role=menu], [role=dialog], [role=alertdialog]',
        );
      if (field && !(event.ctrlKey || event.metaKey)) return;
      const command = commands.find((c) => !c.off && c.matches?.(event));
      if (!command) return;
      event.preventDefault();
      command.run();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [commands, panel]);
}
