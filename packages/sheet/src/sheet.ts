import {
  type Assembly,
  type AssemblyStep,
  add,
  type Box,
  bedName,
  codesOf,
  comesFrom,
  cutsWords,
  EYE,
  holdWords,
  hoursText,
  length,
  needsOf,
  offsetsAt,
  type Piece,
  type PiecePrint,
  type PrintContext,
  scale,
  sizeOf,
  standOff,
  stepWords,
  sticksFor,
  sticksWords,
  sub,
  threadWords,
  uniteBoxes,
  type Vec3,
} from '@gephyra/core';
import { Pages, type Paper } from './pages.ts';
import { Pictures } from './pictures.ts';

export { PAPERS, type Paper } from './pages.ts';

export interface SheetContext {
  readonly context: PrintContext;
  readonly prints: readonly PiecePrint[];
  readonly assembly: Assembly;
  /** of the project */
  readonly name: string;
  /** said on the sheet, and kept as the file's date */
  readonly date: Date;
  readonly paper: Paper;
  readonly tell?: (share: number, what: string) => void;
}

const STILL: Vec3 = [0, 0, 0];
/** Pictures have so many pixels a point: some 200 to the inch. */
const SHARP = 2.8;

/** What all parts of a sheet are written from. */
interface Subject extends SheetContext {
  /** those that are made */
  readonly pieces: readonly Piece[];
  readonly byKey: ReadonlyMap<string, Piece>;
  readonly pictures: Pictures;
  codeOf(key: string): string;
}

/**
 * The assembly sheet as a PDF: an overview, the pieces, what is bought and cut, a panel a step, and what is finished after. Its text can be
 * selected; its pictures are drawn by the core, so that nothing else is needed. Rejects with what drawing throws.
 */
export async function sheetPdf(sheet: SheetContext): Promise<Uint8Array> {
  const { evaluation } = sheet.context;
  const pieces = evaluation.pieces.filter((p) => !p.aside);
  const byKey = new Map(pieces.map((p) => [p.key, p]));
  const subject: Subject = {
    ...sheet,
    pieces,
    byKey,
    pictures: new Pictures(evaluation),
    codeOf: (key) => byKey.get(key)?.code ?? key,
  };
  const pages = await Pages.begin(sheet.name, sheet.date, sheet.paper);
  overview(pages, subject);
  pieceList(pages, subject);
  hardware(pages, subject);
  await steps(pages, subject);
  finishing(pages, subject);
  return pages.finish(sheet.name);
}

const pixels = (w: number, h: number): [number, number] => [Math.round(w * SHARP), Math.round(h * SHARP)];

/** What it is, in figures, and a picture of it whole and drawn apart. */
function overview(pages: Pages, { pieces, byKey, pictures, assembly, prints, name, date }: Subject): void {
  pages.y += pages.words(name, 0, pages.y, 24, { bold: true }) + 2;
  const minutes = assembly.steps.reduce((s, step) => s + step.minutes, 0);
  const area = assembly.steps.reduce((s, step) => s + step.area, 0);
  const copies = prints.reduce((s, p) => s + p.copies, 0);
  const figures = `${date.toISOString().slice(0, 10)}. ${pieces.length} pieces${copies > pieces.length ? ` (${copies} prints)` : ''}, ${assembly.steps.length} steps, ${(area / 100).toFixed(0)} cm² to close, ${hoursText(minutes / 60)} of waiting.`;
  pages.y += pages.words(figures, 0, pages.y, 10, { soft: true }) + 8;
  if (pieces.length === 0) return;
  const half = (pages.wide - 16) / 2;
  const tall = 230;
  const whole = pieces.filter((p) => !p.spare);
  const together = whole.map((piece) => ({ piece, by: STILL }));
  pages.picture(pictures.of(together, pixels(half, tall)), 0, pages.y, half, tall);
  const offsets = offsetsAt(assembly.steps, [...byKey.keys()], 0, lengthOf(boxRound(pieces)));
  const apart = whole.map((piece) => ({ piece, by: offsets.get(piece.key)! }));
  pages.picture(pictures.of(apart, pixels(half, tall)), half + 16, pages.y, half, tall);
  pages.y += tall + 6;
}

/** A row a piece, with a box to tick. */
function pieceList(pages: Pages, { pieces, pictures, prints, context: { plan } }: Subject): void {
  pages.heading('Pieces');
  const { wide } = pages;
  const bedOf = new Map(plan.beds.flatMap((b) => b.pieces.map((p) => [p.piece, bedName(b, plan.beds)] as const)));
  const columns = [14, 52, 0.42 * wide, 0.62 * wide, 0.78 * wide, 0.88 * wide] as const;
  const widthOf = (i: number): number => (columns[i + 1] ?? wide) - columns[i] - 6;
  const row = (cells: readonly string[], bold = false): void => {
    cells.forEach((c, i) => {
      pages.words(c, columns[i], pages.y, 9, { bold, width: widthOf(i), soft: bold });
    });
  };
  row(['code', 'piece', 'size, mm', 'bed', 'hours', 'grams'], true);
  pages.y += 14;
  const printOf = new Map(prints.map((p) => [p.key, p]));
  for (const p of pieces) {
    const print = printOf.get(p.key);
    const many = (print?.copies ?? 1) > 1 ? ` × ${print!.copies}` : '';
    const cells = [
      p.code + many,
      p.name,
      p.size.map((x) => x.toFixed(0)).join(' × '),
      bedOf.get(p.key) ?? '',
      print ? print.estimate.hours.toFixed(1) : '',
      print ? print.estimate.grams.toFixed(0) : '',
    ];
    const tallest = Math.max(...cells.map((c, i) => pages.heightOf(c, 9, widthOf(i))));
    pages.room(tallest + 6);
    pages.rule(pages.y - 2);
    pages.box(0, pages.y + 1);
    pages.spot(44, pages.y + 1, pictures.colourOf(p.key));
    row(cells);
    pages.y += Math.max(15, tallest + 4);
  }
}

/** Loose parts, and how rods are cut from sticks. */
function hardware(pages: Pages, { context: { evaluation: e } }: Subject): void {
  if (e.loose.length === 0) return;
  pages.heading('To buy and to cut');
  const width = pages.wide - 16;
  for (const l of e.loose) {
    pages.room(16);
    pages.box(0, pages.y + 1);
    const long = l.length === null ? '' : `, ${l.length.toFixed(1)} mm long`;
    const sum = l.length === null || l.count < 2 ? '' : ` (${(l.length * l.count).toFixed(0)} mm in all)`;
    pages.y += pages.words(`${l.count} × ${l.what}${long}${sum}`, 16, pages.y, 10, { width }) + 4;
  }
  for (const sticks of sticksFor(e.loose)) {
    const cuts = sticks.cuts.length > 0 ? `, cut ${cutsWords(sticks)}` : '';
    const said = `${sticks.what}: ${sticksWords(sticks)}${cuts}`;
    pages.room(pages.heightOf(said, 10, width) + 4);
    pages.y += pages.words(said, 16, pages.y, 10, { width }) + 4;
  }
}

/** A panel a step, four on a page. */
async function steps(pages: Pages, subject: Subject): Promise<void> {
  const { assembly, byKey, pictures, tell } = subject;
  const [pw, ph] = [0.46 * pages.wide, 166];
  pages.room(ph + 60);
  pages.heading('Steps');
  for (const [i, step] of assembly.steps.entries()) {
    tell?.(i / assembly.steps.length, `Drawing step ${i + 1}`);
    // others get their turn
    await new Promise((resolve) => setImmediate(resolve));
    pages.room(ph + 14);
    pages.rule(pages.y);
    pages.y += 7;
    pages.picture(stepPicture(step, byKey, pictures, pixels(pw, ph)), 0, pages.y, pw, ph);
    const end = stepText(pages, subject, i, pw + 14);
    pages.y = Math.max(pages.y + ph, end) + 7;
  }
}

/** What a step says beside its picture; where that ends. */
function stepText(pages: Pages, { assembly, context, codeOf }: Subject, i: number, x: number): number {
  const step = assembly.steps[i];
  const width = pages.wide - x;
  let at = pages.y;
  const line = (text: string, bold = false): void => {
    at += pages.words(text, x, at, 10, { width, bold }) + 3;
  };
  at += pages.words(`${i + 1}. ${stepWords(step.parts, codeOf)}`, x, at, 13, { bold: true, width }) + 5;
  line(`${codesOf(step.parts[step.parts.length - 1], codeOf)}: ${comesFrom(step.out)}.`);
  line(
    `${(step.area / 100).toFixed(1)} cm² on ${step.faces.length === 1 ? 'one face' : `${step.faces.length} faces`}, ${closing(step)}.`,
  );
  for (const need of needs(step, context)) line(need);
  for (const t of assembly.threads) {
    if (t.after === i + 1) line(`Then put in ${threadWords(t, codeOf)}.`);
    else if (t.after === 0 && i === 0) line(`Put in first: ${threadWords(t, codeOf)}.`);
  }
  if (step.notes) line(step.notes);
  for (const b of step.blockers.slice(0, 2)) {
    line(`Blocked: ${codeOf(b.comes)}, ${codeOf(b.stays)}: ${holdWords(b.hold)}.`, true);
  }
  at += 3;
  for (const check of ['faces flat and clean', 'fitted dry', step.closing === 'loose' ? 'put together' : 'joined']) {
    pages.box(x, at + 1);
    at += pages.words(check, x + 15, at, 10, { width: width - 15 }) + 3;
  }
  return at;
}

/** Seams to fill, sand and prime. */
function finishing(pages: Pages, { context: { plan, evaluation: e }, codeOf }: Subject): void {
  const seams = plan.seams.filter((s) => s.enabled && e.faces.some((f) => f.seam === s.id));
  if (seams.length === 0) return;
  pages.heading('Finishing');
  const { wide } = pages;
  for (const [i, s] of seams.entries()) {
    const touched = [...new Set(e.faces.filter((f) => f.seam === s.id).flatMap((f) => f.pieces))];
    const said = `${s.name || `Seam ${i + 1}`}: ${touched.map(codeOf).join(', ')}`;
    const high = pages.heightOf(said, 10, 0.43 * wide);
    pages.room(high + 6);
    pages.words(said, 0, pages.y, 10, { width: 0.43 * wide });
    ['filled', 'sanded', 'primed'].forEach((state, k) => {
      const x = wide * (0.45 + 0.18 * k);
      pages.box(x, pages.y + 1);
      pages.words(state, x + 14, pages.y, 10, { width: 80 });
    });
    pages.y += Math.max(17, high + 5);
  }
}

function closing({ closing: by, minutes }: AssemblyStep): string {
  const words = { glue: 'glued', weld: 'welded', screw: 'screwed', magnet: 'held by magnets', loose: 'left loose' }[by];
  return minutes > 0 ? `${words}, ${minutes} min to wait` : words;
}

/** Joints and loose parts of a step, a line each. */
function needs(step: AssemblyStep, { evaluation: e }: PrintContext): string[] {
  const { kinds, loose } = needsOf(step, e.joints, e.loose);
  return [
    ...(kinds.length > 0 ? [`Joints: ${kinds.map((k) => `${k.count} × ${k.kind}`).join(', ')}.`] : []),
    ...loose.map((l) => `Put in ${l.count} × ${l.what}${l.length === null ? '' : `, ${l.length.toFixed(1)} mm`}.`),
  ];
}

const boxRound = (pieces: readonly Piece[]): Box => pieces.map((p) => p.box).reduce(uniteBoxes);
const lengthOf = (box: Box): number => length(sizeOf(box));

/** What a step joins, the coming part drawn off, with an arrow along its way. */
function stepPicture(
  { parts, out, travel }: AssemblyStep,
  byKey: ReadonlyMap<string, Piece>,
  pictures: Pictures,
  size: readonly [number, number],
): Uint8Array {
  const there = (keys: readonly string[]): Piece[] => keys.flatMap((k) => byKey.get(k) ?? []);
  const come = there(parts[parts.length - 1]);
  const stay = there(parts.slice(0, -1).flat());
  const long = lengthOf(boxRound([...come, ...stay]));
  const far = standOff(travel, long);
  const by = scale(out, far);
  const own = boxRound(come);
  const middle = scale(add(own.min, own.max), 0.5);
  // beside the part, towards the eye, so that it is not hidden
  const start = add(add(middle, by), scale(EYE, 0.5 * lengthOf(own)));
  const end = sub(start, scale(out, Math.max(far, 0.18 * long)));
  return pictures.of([...stay.map((piece) => ({ piece, by: STILL })), ...come.map((piece) => ({ piece, by }))], size, {
    from: start,
    to: end,
    thick: 0.014 * long,
  });
}
