import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
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
import { Pictures } from './pictures.ts';

export const PAPERS = ['A4', 'LETTER'] as const;
export type Paper = (typeof PAPERS)[number];

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

const INK = '#1d2a33';
const SOFT = '#5d6970';
const RULE = '#cdbfa6';
const MARGIN = 42;
const STILL: Vec3 = [0, 0, 0];
/** Pictures have so many pixels a point: some 200 to the inch. */
const SHARP = 2.8;

const require = createRequire(import.meta.url);
const fontFile = (weight: 400 | 700): Buffer =>
  readFileSync(
    require.resolve(
      `@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-${weight}-normal.woff`,
    ),
  );

/** What the sheet's font has: Latin letters, and the marks that its texts use. Others lose their accents, or become “?”. */
function printable(text: string): string {
  const has = (c: string): boolean =>
    /[\n\u0020-\u007e\u00a0-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d\u2026\u2022\u00d7]/.test(c);
  return [...text].map((c) => (has(c) ? c : [...c.normalize('NFKD')].filter(has).join('') || '?')).join('');
}

/**
 * The assembly sheet as a PDF: an overview, the pieces, what is bought and cut, a panel a step, and what is finished after. Its text can be
 * selected; its pictures are drawn by the core, so that nothing else is needed. Rejects with what drawing throws.
 */
export async function sheetPdf({
  context,
  prints,
  assembly,
  name,
  date,
  paper,
  tell,
}: SheetContext): Promise<Uint8Array> {
  const { plan, evaluation: e } = context;
  const pieces = e.pieces.filter((p) => !p.aside);
  const byKey = new Map(pieces.map((p) => [p.key, p]));
  const codeOf = (key: string): string => byKey.get(key)?.code ?? key;
  const pictures = new Pictures(e);
  // a large package, which only sheets need
  const { default: PDFDocument } = await import('pdfkit');
  const doc = new PDFDocument({
    size: paper,
    margin: MARGIN,
    bufferPages: true,
    info: { Title: `${printable(name)}, assembly`, Creator: 'Gephyra', CreationDate: date, ModDate: date },
  });
  const chunks: Uint8Array[] = [];
  const ended = new Promise<void>((resolve, reject) => {
    doc.on('data', (c: Uint8Array) => chunks.push(c));
    doc.on('end', resolve);
    doc.on('error', reject);
  });
  doc.registerFont('plain', fontFile(400)).registerFont('bold', fontFile(700));
  const wide = doc.page.width - 2 * MARGIN;
  const bottom = doc.page.height - MARGIN - 16;
  let y = MARGIN;
  const words = (
    text: string,
    x: number,
    at: number,
    size = 10,
    more: { bold?: boolean; soft?: boolean; width?: number; right?: boolean } = {},
  ): number => {
    doc
      .font(more.bold ? 'bold' : 'plain')
      .fontSize(size)
      .fillColor(more.soft ? SOFT : INK);
    const options = {
      width: more.width ?? wide,
      align: more.right ? ('right' as const) : ('left' as const),
      lineGap: 1,
    };
    const said = printable(text);
    doc.text(said, x, at, options);
    return doc.heightOfString(said, options);
  };
  /** How high a text stands in so much width, pt. */
  const heightOf = (text: string, size: number, width: number): number =>
    doc.font('plain').fontSize(size).heightOfString(printable(text), { width, lineGap: 1 });
  const rule = (at: number): void =>
    void doc
      .moveTo(MARGIN, at)
      .lineTo(MARGIN + wide, at)
      .lineWidth(0.7)
      .stroke(RULE);
  const box = (x: number, at: number): void => void doc.rect(x, at, 9, 9).lineWidth(0.8).stroke(INK);
  const room = (height: number): void => {
    if (y + height <= bottom) return;
    doc.addPage();
    y = MARGIN;
  };
  const heading = (text: string): void => {
    room(60);
    y += 10;
    y += words(text, MARGIN, y, 14, { bold: true }) + 4;
  };
  const drawn = (png: Uint8Array, x: number, at: number, width: number, height: number): void =>
    void doc.image(Buffer.from(png), x, at, { fit: [width, height], align: 'center', valign: 'center' });

  // overview
  y += words(name, MARGIN, y, 24, { bold: true }) + 2;
  const minutes = assembly.steps.reduce((s, step) => s + step.minutes, 0);
  const area = assembly.steps.reduce((s, step) => s + step.area, 0);
  const copies = prints.reduce((s, p) => s + p.copies, 0);
  y +=
    words(
      `${date.toISOString().slice(0, 10)}. ${pieces.length} pieces${copies > pieces.length ? ` (${copies} prints)` : ''}, ${assembly.steps.length} steps, ${(area / 100).toFixed(0)} cm² to close, ${hoursText(minutes / 60)} of waiting.`,
      MARGIN,
      y,
      10,
      { soft: true },
    ) + 8;
  const half = (wide - 16) / 2;
  const tall = 230;
  const pixels = (w: number, h: number): [number, number] => [Math.round(w * SHARP), Math.round(h * SHARP)];
  if (pieces.length > 0) {
    const whole = pieces.filter((p) => !p.spare);
    const together = whole.map((piece) => ({ piece, by: STILL }));
    drawn(pictures.of(together, pixels(half, tall)), MARGIN, y, half, tall);
    const offsets = offsetsAt(assembly.steps, [...byKey.keys()], 0, lengthOf(boxRound(pieces)));
    const apart = whole.map((piece) => ({ piece, by: offsets.get(piece.key)! }));
    drawn(pictures.of(apart, pixels(half, tall)), MARGIN + half + 16, y, half, tall);
    y += tall + 6;
  }

  // pieces
  heading('Pieces');
  const bedOf = new Map(plan.beds.flatMap((b) => b.pieces.map((p) => [p.piece, bedName(b, plan.beds)] as const)));
  const columns = [0, 14, 52, 0.42 * wide, 0.62 * wide, 0.78 * wide, 0.88 * wide] as const;
  const widthOf = (i: number): number => (columns[i + 2] ?? wide) - columns[i + 1] - 6;
  const row = (cells: readonly string[], bold = false): void => {
    cells.forEach((c, i) => {
      words(c, MARGIN + columns[i + 1], y, 9, { bold, width: widthOf(i), soft: bold });
    });
  };
  row(['code', 'piece', 'size, mm', 'bed', 'hours', 'grams'], true);
  y += 14;
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
    const tallest = Math.max(...cells.map((c, i) => heightOf(c, 9, widthOf(i))));
    room(tallest + 6);
    rule(y - 2);
    box(MARGIN, y + 1);
    doc.rect(MARGIN + 44, y + 1, 5, 9).fill(pictures.colourOf(p.key));
    row(cells);
    y += Math.max(15, tallest + 4);
  }

  // hardware
  if (e.loose.length > 0) {
    heading('To buy and to cut');
    for (const l of e.loose) {
      room(16);
      box(MARGIN, y + 1);
      const length = l.length === null ? '' : `, ${l.length.toFixed(1)} mm long`;
      const sum = l.length === null || l.count < 2 ? '' : ` (${(l.length * l.count).toFixed(0)} mm in all)`;
      y += words(`${l.count} × ${l.what}${length}${sum}`, MARGIN + 16, y, 10, { width: wide - 16 }) + 4;
    }
    for (const sticks of sticksFor(e.loose)) {
      const cuts = sticks.cuts.length > 0 ? `, cut ${cutsWords(sticks)}` : '';
      const said = `${sticks.what}: ${sticksWords(sticks)}${cuts}`;
      room(heightOf(said, 10, wide - 16) + 4);
      y += words(said, MARGIN + 16, y, 10, { width: wide - 16 }) + 4;
    }
  }

  // steps, four on a page
  const [pw, ph] = [0.46 * wide, 166];
  room(ph + 60);
  heading('Steps');
  for (const [i, step] of assembly.steps.entries()) {
    tell?.(i / assembly.steps.length, `Drawing step ${i + 1}`);
    // others get their turn
    await new Promise((resolve) => setImmediate(resolve));
    room(ph + 14);
    rule(y);
    y += 7;
    drawn(stepPicture(step, byKey, pictures, pixels(pw, ph)), MARGIN, y, pw, ph);
    const x = MARGIN + pw + 14;
    const width = wide - pw - 14;
    let at = y;
    const line = (text: string, more: Parameters<typeof words>[4] = {}): void => {
      at += words(text, x, at, 10, { width, ...more }) + 3;
    };
    at += words(`${i + 1}. ${stepWords(step.parts, codeOf)}`, x, at, 13, { bold: true, width }) + 5;
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
      line(`Blocked: ${codeOf(b.comes)}, ${codeOf(b.stays)}: ${holdWords(b.hold)}.`, { bold: true });
    }
    at += 3;
    for (const check of ['faces flat and clean', 'fitted dry', step.closing === 'loose' ? 'put together' : 'joined']) {
      box(x, at + 1);
      at += words(check, x + 15, at, 10, { width: width - 15 }) + 3;
    }
    y = Math.max(y + ph, at) + 7;
  }

  // finishing
  const seams = plan.seams.filter((s) => s.enabled && e.faces.some((f) => f.seam === s.id));
  if (seams.length > 0) {
    heading('Finishing');
    for (const [i, s] of seams.entries()) {
      const touched = [...new Set(e.faces.filter((f) => f.seam === s.id).flatMap((f) => f.pieces))];
      const said = `${s.name || `Seam ${i + 1}`}: ${touched.map(codeOf).join(', ')}`;
      const high = heightOf(said, 10, 0.43 * wide);
      room(high + 6);
      words(said, MARGIN, y, 10, { width: 0.43 * wide });
      ['filled', 'sanded', 'primed'].forEach((state, k) => {
        const x = MARGIN + wide * (0.45 + 0.18 * k);
        box(x, y + 1);
        words(state, x + 14, y, 10, { width: 80 });
      });
      y += Math.max(17, high + 5);
    }
  }

  const { count } = doc.bufferedPageRange();
  for (let i = 0; i < count; i++) {
    doc.switchToPage(i);
    // a foot below the margin would begin another page
    doc.page.margins.bottom = 0;
    words(`${name}, ${i + 1} of ${count}`, MARGIN, doc.page.height - MARGIN + 8, 8, { soft: true, right: true });
  }
  doc.end();
  await ended;
  return Buffer.concat(chunks);
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
