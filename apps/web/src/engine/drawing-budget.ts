/** How much of a model is drawn, in triangles: one with more than `whole` is drawn with fewer, at most `drawn`. */
export interface DrawingBudget {
  readonly whole: number;
  readonly drawn: number;
}

const CARD: DrawingBudget = { whole: 600_000, drawn: 400_000 };
/** A processor that stands in for a graphics card takes some 2.5 µs a triangle for every picture. */
const PROCESSOR: DrawingBudget = { whole: 250_000, drawn: 150_000 };

/** What drawing programs in place of a graphics card call themselves. */
const IN_PLACE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

/** The budget for a renderer by the name that it gives itself. */
export const budgetOf = (renderer: string): DrawingBudget => (IN_PLACE.test(renderer) ? PROCESSOR : CARD);

let known: DrawingBudget | undefined;

/** The budget on this machine, asked of it once. For a worker: asking takes a moment. */
export function drawingBudget(): DrawingBudget {
  known ??= budgetOf(rendererName());
  return known;
}

/** Empty where nothing tells. */
function rendererName(): string {
  if (typeof OffscreenCanvas === 'undefined') return '';
  const context = new OffscreenCanvas(1, 1).getContext('webgl2');
  const info = context?.getExtension('WEBGL_debug_renderer_info');
  if (!context || !info) return '';
  const name = String(context.getParameter(info.UNMASKED_RENDERER_WEBGL));
  context.getExtension('WEBGL_lose_context')?.loseContext();
  return name;
}
