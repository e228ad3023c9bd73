// The model that a worker holds, and what was last computed from it.
import {
  applyRecipe,
  type Body,
  type Cells,
  type Colouring,
  cellsFor,
  concatenate,
  EvalCache,
  type Evaluation,
  evaluateModel,
  IDENTITY,
  type Kernel,
  kernelTriangulator,
  type Mirror,
  type Model,
  mirrorIn,
  mirrorSearch,
  type Plan,
  parsePlan,
  type SizedBody,
  sizedBody,
  splitRecipe,
  type Triangulator,
} from '@gephyra/core';
import { drawingBudget } from './drawing-budget.ts';
import type { MirrorView } from './probe.ts';
import type { Tell } from './tell.ts';

const NOTHING: Model = { bodies: [], map: IDENTITY, palette: [], unit: null };

/** So long an evaluation works at once, ms; after so many turns it goes through, as what it needs may not all be kept at a time. */
const AT_ONCE = 120;
const MOST_TURNS = 300;

/** Ends an evaluation that goes on later: what was done by then is kept. */
class Pause extends Error {}

/** A newer plan is waited for. */
class Superseded extends Error {
  override readonly message = 'A newer plan is waited for.';
}

/** A model with the plan's light steps done, evaluated with what was computed before. */
export class HeldModel {
  /** what the heavy steps made */
  base: Model = NOTHING;
  /** the same after the light steps of the last plan */
  model: Model = NOTHING;
  /** the page keeps what it draws by these numbers, also when a worker takes the place of one that died: later ones are higher */
  readonly cache = new EvalCache(Math.floor(performance.timeOrigin) * 1000);
  fallback: Triangulator = () => new Uint32Array(0);
  /** of the pieces as they were last shown */
  colours: Colouring = new Map();
  private kernel: Kernel | undefined;
  /** called after each piece of work for the kernel, while an evaluation is done in turns */
  private breath: (() => void) | undefined;
  private mirrored: { readonly key: string; readonly plane: MirrorView | null } | null = null;
  private drawn: { readonly key: string; readonly cells: Cells | null } | null = null;
  private last: { readonly key: string; readonly e: Evaluation } | null = null;

  /** Takes a model in place of the one before. */
  open(model: Model, kernel: Kernel): void {
    this.kernel = kernel;
    this.fallback = kernelTriangulator(kernel);
    this.last = null;
    this.base = model;
    this.model = model;
    this.cache.forget();
  }

  /** The kernel. Throws while no model was opened. */
  tools(): Kernel {
    if (!this.kernel) throw new Error('There is no model yet.');
    return this.kernel;
  }

  /** The bodies as they stand, with their index, as evaluation keeps them. */
  bodies(): SizedBody[] {
    return this.model.bodies.map((b) => this.sized(b));
  }

  sized(body: Body): SizedBody {
    return sizedBody(body, this.cache);
  }

  /** The evaluation of a plan document; the last one is kept. Throws a GephyraError when the document is no plan. */
  evaluation(document: unknown): { plan: Plan; e: Evaluation } {
    const plan = parsePlan(document);
    const posed = this.pose(plan);
    const key = `${this.key()} ${JSON.stringify(plan)}`;
    if (this.last?.key !== key) this.last = { key, e: this.run(plan, posed) };
    return { plan, e: this.last.e };
  }

  /**
   * The same, while others get their turn between one piece of work for the kernel and the next. Throws `Superseded` as soon as
   * `wanted` says that nobody waits for it any more.
   */
  async evaluationInTurns(document: unknown, wanted: () => boolean): Promise<{ plan: Plan; e: Evaluation }> {
    for (let turns = 0; ; turns++) {
      const start = performance.now();
      this.breath = () => {
        if (turns < MOST_TURNS && performance.now() - start > AT_ONCE) throw new Pause();
      };
      try {
        return this.evaluation(document);
      } catch (error) {
        if (!(error instanceof Pause)) throw error;
      } finally {
        this.breath = undefined;
      }
      await new Promise((resolve) => setTimeout(resolve));
      if (!wanted()) throw new Superseded();
    }
  }

  /** A plan document, and the model moved to where its light steps leave it. */
  posed(document: unknown): Plan {
    const plan = parsePlan(document);
    this.pose(plan);
    return plan;
  }

  /** The evaluation of a plan that is not the maker's: it is not kept. */
  evaluate(plan: Plan): Evaluation {
    return this.run(plan, this.pose(plan));
  }

  /** The mirror plane as far as it is known: looking for it takes a while. */
  knownMirror(): MirrorView | null {
    return this.mirrored?.key === this.key() ? this.mirrored.plane : null;
  }

  /** The plane in which the model comes nearest to its own mirror image; null when there is none worth the name. */
  async mirror(tell?: Tell): Promise<MirrorView | null> {
    const key = this.key();
    const search = mirrorSearch(this.model.bodies.map((b) => b.mesh));
    while (this.mirrored?.key !== key) {
      const step = search.next();
      if (step.done) this.mirrored = { key, plane: step.value };
      else {
        tell?.(step.value, 'Looking for the mirror plane');
        // others get their turn
        await new Promise((resolve) => setTimeout(resolve));
      }
    }
    return this.mirrored.plane;
  }

  /** The mirror plane as seating takes it. */
  async mirrorPlane(tell?: Tell): Promise<Mirror | null> {
    return mirrorIn(await this.mirror(tell));
  }

  private run(plan: Plan, model: Model): Evaluation {
    return evaluateModel(plan, model, {
      fallback: this.fallback,
      cache: this.cache,
      ...(this.kernel && { kernel: this.kernel }),
      ...(this.breath && { breath: this.breath }),
    });
  }

  /** Cells in which vertices fall together where the model is drawn; null: it is drawn as it is. */
  cells(): Cells | null {
    const key = this.key();
    if (this.drawn?.key !== key) {
      const meshes = this.model.bodies.map((b) => b.mesh);
      const { whole, drawn } = drawingBudget();
      const heavy = meshes.reduce((n, m) => n + m.tags.length, 0) > whole;
      this.drawn = { key, cells: heavy ? cellsFor(concatenate(meshes), drawn) : null };
    }
    return this.drawn.cells;
  }

  /** Tells the model as it stands again, by its meshes. */
  key(): string {
    return this.model.bodies.map((b) => this.cache.idOf(b.mesh)).join();
  }

  private pose(plan: Plan): Model {
    this.model = applyRecipe(splitRecipe(plan.recipe).light, this.base, {
      map: (mesh, m) => this.cache.mapped(mesh, m),
    });
    return this.model;
  }
}
