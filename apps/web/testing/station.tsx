// A project for stations and panels to work on: its pieces are really computed, its changes made on a plan that is kept here.
import {
  Blocking,
  bedFindings,
  bodiesOf,
  checkOrder,
  type Frame,
  finished,
  IDENTITY,
  type Joint,
  type Kernel,
  labelFindings,
  loadKernel,
  type Plan,
  type PlanInput,
  type Pose,
  type Preparation,
  parsePlan,
  piecePrints,
  printFindings,
  refitJoints,
  type StepInput,
  type Wish,
} from '@gephyra/core';
import { render } from '@testing-library/react';
import { type ReactNode, useCallback, useMemo, useState } from 'react';
import { MemoryRouter } from 'react-router';
import { SWRConfig } from 'swr';
import type { IndexedMesh } from '../../../packages/core/src/mesh/types.ts';
import { assemblyOf, orderOf } from '../src/engine/assembling.ts';
import { evaluationView } from '../src/engine/evaluation-view.ts';
import { HeldModel } from '../src/engine/held-model.ts';
import { checkJoint, helpFor, type SeatRequest, seatOn, wallPlaces } from '../src/engine/joints.ts';
import { prepareOn } from '../src/engine/preparing.ts';
import { bedsOf, choicesOf, lyingOf, posingOf, printView } from '../src/engine/prints.ts';
import { through } from '../src/engine/probe.ts';
import { type ProposalRequest, proposalOf } from '../src/engine/proposals.ts';
import { regionsAt, regionsOfSeam, targetsOf, wholeModel } from '../src/engine/seam-scope.ts';
import { along, colourLinesOf, gridOf, sidesOf, wallsOf } from '../src/engine/seams.ts';
import type { Tell } from '../src/engine/tell.ts';
import type { Triple } from '../src/engine/types.ts';
import { type Changing, changed } from '../src/project/changes.ts';
import { ProjectContext, type ProjectWork } from '../src/project/project.tsx';
import { WorkspaceProvider } from '../src/project/selection.tsx';
import { SlotsProvider } from '../src/ui/panels.tsx';
import { Tips } from '../src/ui/tip.tsx';
import { ToastProvider } from '../src/ui/toasts.tsx';

// silhouettes on beds are the kernel's work
await loadKernel();

export const desktop = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };

const NO_EQUIPMENT = { equipment: { revision: 0, equipment: { printers: [], presets: [] } } };

/** What the worker of the page does, done here. */
function engineOf(held: HeldModel) {
  return {
    regions: async (frame: Frame, walls: boolean, of?: { document: unknown; seam: string }) => {
      const regions = of
        ? regionsOfSeam(held, held.posed(of.document), of.seam, frame)
        : regionsAt(wholeModel(held), frame);
      return { regions, walls: walls ? wallsOf(regions) : null };
    },
    along: async (document: unknown, seam: string, frame: Frame, others: readonly number[]) => {
      const plan = held.posed(document);
      const meshes = targetsOf(held, plan, seam).map((t) => t.mesh);
      return along(plan, held.model.map, meshes, frame, others, null);
    },
    mirror: async () => null,
    pictures: async () => [],
    sides: async (plan: unknown, seam: string) => sidesOf(held.evaluation(plan).e, held.bodies(), seam),
    grid: async (plan: unknown, wish: Parameters<typeof gridOf>[3], tell: Tell) =>
      gridOf(held.posed(plan), held.model.map, held.bodies(), wish, tell),
    colourLines: async (plan: unknown) => colourLinesOf(held, plan),
    propose: async (plan: unknown, request: ProposalRequest, size: readonly [number, number], tell: Tell) =>
      proposalOf(held, plan, request, null, size, tell),
    // hulls of jointed pieces take the kernel
    weigh: async () => ({ bare: 1, refused: 0, hours: 2.5, support: 12 }),
    assembly: (plan: unknown) => assemblyOf(held, plan),
    order: (plan: unknown, tell: Tell) => orderOf(held, plan, tell),
    prepare: async (document: unknown, step: Preparation, tell: Tell) => prepareOn(held, document, step, tell),
    through: async (at: Triple, normal: Triple) =>
      through(
        held.bodies().map((b) => ({ blocks: b.blocks() })),
        at,
        normal,
      ),
    checkJoint: async (plan: unknown, joint: Joint) => checkJoint(held.evaluation(plan).e, joint),
    wallPlaces: async (plan: unknown, face: string, n: number, joint: Joint) =>
      wallPlaces(held.evaluation(plan).e, face, n, joint),
    seat: async (document: unknown, wish: SeatRequest, tell: Tell) => {
      const { plan, e } = held.evaluation(document);
      return seatOn(plan, e, wish, null, tell);
    },
    refit: async (document: unknown) => {
      const { plan, e } = held.evaluation(document);
      return refitJoints(plan, e);
    },
    choices: async (plan: unknown, key: string, wish: Wish, colour: string, size: readonly [number, number]) =>
      choicesOf(held, plan, key, wish, colour, size),
    lying: async (plan: unknown, key: string, pose: Pose) => lyingOf(held, plan, key, pose),
    poseAll: async (plan: unknown, wish: Wish, _: unknown, tell: Tell) => posingOf(held, plan, wish, new Map(), tell),
    fillBeds: async (plan: unknown, _: unknown, tell: Tell) => bedsOf(held, plan, new Map(), tell),
    faceHelp: async (plan: unknown, id: string) => {
      const face = held.evaluation(plan).e.faces.find((f) => f.id === id);
      return face ? helpFor(face) : null;
    },
  };
}

/** Of the kernel, which does not load where there is no page: the hulls of a few points, by trying all triangles. */
const hullOnly = {
  Manifold: {
    hull: (points: [number, number, number][]) => {
      const [unique] = [[...new Map(points.map((p) => [p.join(), p])).values()]];
      const triangles: number[] = [];
      const side = (a: number[], b: number[], c: number[], d: number[]): number => {
        const [u, v, w] = [b, c, d].map((q) => q.map((x, k) => x - a[k]));
        return (
          w[0] * (u[1] * v[2] - u[2] * v[1]) + w[1] * (u[2] * v[0] - u[0] * v[2]) + w[2] * (u[0] * v[1] - u[1] * v[0])
        );
      };
      for (let i = 0; i < unique.length; i++) {
        for (let j = 0; j < unique.length; j++) {
          for (let k = j + 1; k < unique.length; k++) {
            if (i === j || i >= Math.min(j, k)) continue;
            const sides = unique.map((q) => side(unique[i], unique[j], unique[k], q));
            if (sides.every((s) => s <= 1e-6)) triangles.push(i, j, k);
            else if (sides.every((s) => s >= -1e-6)) triangles.push(i, k, j);
          }
        }
      }
      return { getMesh: () => ({ vertProperties: unique.flat(), triVerts: triangles, numProp: 3 }), delete: () => {} };
    },
  },
} as unknown as Kernel;

interface Made {
  /** the plan as it stands */
  plan(): Plan;
  /** labels of the changes that were made, in order */
  readonly labels: string[];
  /** steps that were to be shown before they are taken */
  readonly previews: StepInput[];
}

/** Keeps the plan as it stands, computed. */
function Given({
  start,
  workOf,
  children,
}: {
  start: Plan;
  workOf: (plan: Plan, show: (plan: Plan) => void) => ProjectWork;
  children: ReactNode;
}) {
  const [plan, setPlan] = useState(start);
  const [candidate, setCandidate] = useState<StepInput | null>(null);
  const work = useMemo(() => workOf(plan, setPlan), [plan, workOf]);
  const said = work.preview;
  const preview = useCallback(
    (step: StepInput | null) => {
      said(step);
      setCandidate(step);
    },
    [said],
  );
  const tried = useMemo(() => ({ ...work, candidate, preview }), [work, candidate, preview]);
  return <ProjectContext value={tried}>{children}</ProjectContext>;
}

/** What tags of meshes mean here. */
const PALETTE = [
  { name: '', colour: '' },
  { name: 'Tide blue', colour: '#1f5673' },
];

/** Shows something in a project of these meshes, at an address like `/?seam=s1`. */
export function inProject(
  what: ReactNode,
  meshes: readonly IndexedMesh[],
  more: Partial<PlanInput> = {},
  {
    at = '/',
    search,
    prepared = false,
    assembled = false,
  }: {
    at?: string;
    search?: (name: string) => Promise<unknown>;
    /** how its pieces are printed is known */
    prepared?: boolean;
    /** its order of joining is checked */
    assembled?: boolean;
  } = {},
): Made & { readonly container: HTMLElement } {
  const held = new HeldModel();
  const parts = meshes.map(({ positions, triangles, tags }) => ({
    name: '',
    positions,
    triangles,
    unit: 'mm' as const,
    ...(tags.some((t) => t > 0) && { paint: tags }),
  }));
  const { bodies, palette } = bodiesOf({ format: 'obj', parts, palette: PALETTE, notes: [] }, 'Prop');
  // plain shapes are cut without the kernel, which does not load in a page that is not there
  held.open({ bodies, map: IDENTITY, palette, unit: 'mm' }, hullOnly);
  const engine = engineOf(held);
  const asked = new Proxy(engine, {
    get: (own, name: string) =>
      search ? () => search(name) : ((own as Record<string, unknown>)[name] ?? (async () => null)),
  });
  const searcher = {
    ask: async (
      run: (e: unknown, tell: Tell) => Promise<unknown>,
      { cancel, tell }: { cancel?: AbortSignal; tell?: Tell },
    ) =>
      await Promise.race([
        run(asked, tell ?? (() => {})),
        new Promise((_, reject) =>
          cancel?.addEventListener('abort', () => reject(new DOMException('ended', 'AbortError'))),
        ),
      ]),
  };
  let now = parsePlan({ version: 5, printer: desktop, ...more });
  const labels: string[] = [];
  const previews: StepInput[] = [];
  const tell = (step: StepInput | null): void => {
    if (step) previews.push(step);
  };

  const workOf = (plan: Plan, show: (plan: Plan) => void): ProjectWork => {
    const found = held.evaluation(plan);
    const context = { kernel: hullOnly, plan, evaluation: found.e, shared: new Map() };
    const prints = prepared ? [...piecePrints(context)].map((p) => printView(context, p)) : [];
    const findings = prepared
      ? [...printFindings(context, prints), ...bedFindings(context, prints), ...labelFindings(plan, context.evaluation)]
      : [];
    const assembly = assembled ? finished(checkOrder(plan, found.e, new Blocking(found.e))) : null;
    const shown = evaluationView(held, found, []);
    const view = {
      ...shown,
      findings: [...shown.findings, ...findings, ...(assembly?.findings ?? [])],
      milliseconds: 0,
    };
    return {
      project: {
        id: 'p1',
        name: 'Prop',
        revision: 1,
        source: { fileName: 'prop.stl', format: 'stl-binary', unit: null, notes: [], bodies: [] },
      },
      plan,
      view,
      model: { openEdges: new Float32Array(0), map: view.map, reports: [], triangles: 0, unit: null },
      engine,
      searcher,
      busy: false,
      failure: null,
      candidate: null,
      preview: tell,
      alike: { groups: [], files: new Map(), declared: [] },
      assembly,
      prints: { prints, findings, byKey: new Map(prints.map((p) => [p.key, p])), busy: false },
      geometry: new Map(),
      change: (label: string, ...changes: Changing[]) => {
        labels.push(label);
        const { plan: next, ids } = changed(now, changes);
        now = next;
        show(next);
        return ids;
      },
    } as unknown as ProjectWork;
  };

  const places = ['ledger', 'companion', 'side'].map((name) => {
    const place = document.createElement('div');
    place.dataset.place = name;
    place.className = 'slim-scroll';
    document.body.append(place);
    return place;
  });
  const [ledger, companion, side] = places;
  const slots = { ledger, companion, side, addCompanion: () => () => {}, swap: () => {} };
  const { container } = render(
    <SWRConfig value={{ provider: () => new Map(), fallback: NO_EQUIPMENT, revalidateOnMount: false }}>
      <MemoryRouter initialEntries={[at]}>
        <Tips>
          <ToastProvider>
            <Given start={now} workOf={workOf}>
              <WorkspaceProvider>
                <SlotsProvider value={slots}>{what}</SlotsProvider>
              </WorkspaceProvider>
            </Given>
          </ToastProvider>
        </Tips>
      </MemoryRouter>
    </SWRConfig>,
  );
  return { plan: () => now, labels, previews, container };
}
