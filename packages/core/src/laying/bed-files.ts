import { encode } from 'fast-png';
import { passingWithin } from '../crossing/index.ts';
import type { Bed, PlacedPiece, Plan } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import { pieceMesh } from '../evaluate/index.ts';
import {
  type Deflate,
  type Paint,
  type RawModel,
  type RawPart,
  readModel,
  toPrintable,
  triangleCount,
  writeModel,
} from '../formats/index.ts';
import { labelled } from '../labels/index.ts';
import {
  type Affine,
  compose,
  concatenate,
  type IndexedMesh,
  mapped,
  moving,
  picture,
  turning,
  volume,
} from '../mesh/index.ts';
import { crossedBodies, csvCell, type ExportFile, fileFaults, mirrorImage, safeName } from '../output/index.ts';
import { layDown } from '../print/index.ts';
import { degrees } from '../units.ts';
import { bedName } from './bed-findings.ts';
import { bedHours, leadOf } from './fill.ts';
import type { PiecePrint } from './model.ts';
import { type PrintContext, printerNamed } from './prints.ts';

/** A bed as it was written: which file, and what of it is not sound. */
export interface WrittenBed {
  readonly bed: Bed;
  readonly file: string;
  readonly against: readonly string[];
}

export interface BedFiles {
  readonly folder: string;
  readonly files: readonly ExportFile[];
  readonly beds: readonly WrittenBed[];
}

export interface BedOptions {
  readonly palette: readonly Paint[];
  readonly progress?: (share: number, what: string) => void;
  readonly deflate?: Deflate | undefined;
}

/** A print as it lies on the bed, about the middle of its box, with what its tags mean in the palette. */
interface Laid {
  readonly mesh: IndexedMesh;
  readonly paint: readonly number[];
  readonly watertight: boolean;
  /** places where cuts and joints pass through anything */
  readonly passing: number;
}

/** The map that lays a mesh as a print does; the mesh is mirrored already where its file is. */
export const layOf = (print: PiecePrint, mesh: IndexedMesh): Affine => layDown(mesh.positions, print.pose).map;

/** Where a placed piece is on the bed. */
const placeOf = ({ x, y, spin }: PlacedPiece): Affine =>
  compose(moving([x, y, 0]), turning([0, 0, 1], spin, [0, 0, 0]));

/** A picture's size, pixels. */
const [WIDE, HIGH] = [640, 480];

/**
 * Writes beds, a folder each: a 3MF with one object a file and one build item a copy, or one STL; a picture; and one list of
 * all beds. Every model file is read back: as many triangles, the volume of its pieces, and nothing below z = 0. Throws
 * GephyraError `export.nothing` when no bed holds anything.
 */
export function bedFiles(
  context: PrintContext,
  prints: readonly PiecePrint[],
  beds: readonly Bed[],
  project: string,
  format: '3mf' | 'stl',
  { palette, progress = () => {}, deflate }: BedOptions,
): BedFiles {
  const { plan, evaluation } = context;
  const full = beds.filter((b) => b.pieces.length > 0);
  if (full.length === 0)
    throw new GephyraError('export.nothing', 'No bed holds a piece, so there is nothing to export.');
  const folder = safeName(project) || 'project';
  const byKey = new Map(prints.map((p) => [p.key, p]));
  const crossed = crossedBodies(evaluation);
  const known = new Map<string, Laid>();
  const laid = (print: PiecePrint): Laid => {
    const name = `${print.of} ${print.mirrored}`;
    const made = known.get(name) ?? layPrint(context, print);
    known.set(name, made);
    return made;
  };
  const files: ExportFile[] = [];
  const written: WrittenBed[] = [];
  full.forEach((bed, i) => {
    const number = plan.beds.indexOf(bed) + 1;
    progress(i / full.length, `Writing ${bedName(bed, plan.beds)}`);
    // the folder that all of it is in has the project's name
    const stem = safeName(`bed ${number} ${bed.name || bed.printer}`);
    const on = bed.pieces.flatMap((at) => {
      const print = byKey.get(at.piece);
      return print && at.copy <= print.copies ? [{ at, print, laid: laid(print) }] : [];
    });
    if (on.length === 0) return;
    const model = format === '3mf' ? itemsOf(context, bed, on, palette) : { ...EMPTY, parts: [mergedPart(stem, on)] };
    const made = writeModel(model, format, stem, deflate);
    for (const file of made) files.push({ name: `${stem}/${file.name}`, bytes: file.bytes });
    files.push({
      name: `${stem}/${stem}.png`,
      bytes: pictureOf(plan, bed, on),
    });
    const against = [
      ...on.flatMap((o) => {
        const piece = evaluation.pieces.find((p) => p.key === o.print.key)!;
        return fileFaults(piece, o.laid, crossed.has(piece.body));
      }),
      ...readBack(made[0], on),
    ];
    written.push({ bed, file: `${stem}/${made[0].name}`, against });
  });
  files.push({ name: 'beds.csv', bytes: new TextEncoder().encode(bedsCsv(context, prints, written)) });
  return { folder, files, beds: written };
}

interface OnBed {
  readonly at: PlacedPiece;
  readonly print: PiecePrint;
  readonly laid: Laid;
}

const EMPTY: Omit<RawModel, 'parts'> = { format: '3mf', palette: [{ name: '', colour: '' }], notes: [] };

function layPrint(context: PrintContext, print: PiecePrint): Laid {
  const piece = leadOf(context, print)!;
  const code = print.mirrored ? mirroredCode(context, print) : piece.code;
  const { mesh, tags, paint } = pieceMesh(
    labelled(context.plan, context.evaluation, piece, code, print.mirrored).piece,
  );
  const own = print.mirrored ? mirrorImage(mesh) : mesh;
  const { positions } = layDown(own.positions, print.pose);
  const { mesh: rounded, topology } = toPrintable({ ...own, positions });
  const passing = passingWithin(rounded, (tag) => tags[tag].kind !== 'skin');
  return { mesh: rounded, paint, watertight: topology.watertight, passing };
}

/** The code of the first piece that is the mirror image of a print's file. */
function mirroredCode({ evaluation, shared }: PrintContext, { key, of }: PiecePrint): string {
  const first = evaluation.pieces.find((p) => {
    const file = shared.get(p.key);
    return file?.of === of && file.mirrored;
  });
  return (first ?? evaluation.pieces.find((p) => p.key === key)!).code;
}

/** One object for each file on a bed, and where its copies are built. */
function itemsOf({ evaluation }: PrintContext, bed: Bed, on: readonly OnBed[], palette: readonly Paint[]): RawModel {
  const objects = new Map<Laid, OnBed[]>();
  for (const o of on) objects.set(o.laid, [...(objects.get(o.laid) ?? []), o]);
  // what is printed in one colour has it in place of the model's
  const colours = bed.colour ? [{ name: bed.material ?? bed.colour, colour: bed.colour }] : [];
  const parts = [...objects].map(([{ mesh, paint }, copies]): RawPart => {
    const { print } = copies[0];
    const piece = evaluation.pieces.find((p) => p.key === print.of)!;
    const own = colours.length > 0 ? mesh.tags.map(() => palette.length) : mesh.tags.map((t) => paint[t]);
    return {
      name: `${piece.code} ${piece.name}${print.mirrored ? ' mirrored' : ''}`,
      positions: mesh.positions,
      triangles: mesh.triangles,
      unit: 'mm',
      items: copies.map(({ at }) => placeOf(at)),
      ...(own.some((x) => x > 0) && { paint: own }),
    };
  });
  return { ...EMPTY, palette: parts.some((p) => p.paint) ? [...palette, ...colours] : EMPTY.palette, parts };
}

/** All pieces of a bed in their places, as one surface. */
function mergedPart(name: string, on: readonly OnBed[]): RawPart {
  const mesh = concatenate(on.map(({ at, laid }) => mapped(laid.mesh, placeOf(at))));
  return { name, positions: mesh.positions, triangles: mesh.triangles, unit: 'mm' };
}

/** What does not come out of a written file as it went in. */
function readBack(file: ExportFile, on: readonly OnBed[]): string[] {
  const { parts } = readModel(file.bytes, { name: file.name });
  const triangles = on.reduce((n, o) => n + o.laid.mesh.tags.length, 0);
  const wanted = on.reduce((v, o) => v + volume(o.laid.mesh), 0);
  let found = 0;
  let low = Infinity;
  for (const { positions, triangles: t } of parts) {
    const indices = t ?? Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
    found += volume({ positions: Float64Array.from(positions), triangles: indices });
    for (let i = 2; i < positions.length; i += 3) low = Math.min(low, positions[i]);
  }
  const out: string[] = [];
  const count = parts.reduce((n, p) => n + triangleCount(p), 0);
  if (count !== triangles) out.push(`${file.name} holds ${count} triangles instead of ${triangles}.`);
  if (Math.abs(found / wanted - 1) > 1e-4)
    out.push(`${file.name} holds ${found.toFixed(0)} mm³ instead of ${wanted.toFixed(0)}.`);
  if (Math.abs(low) > 0.01) out.push(`${file.name} begins at a height of ${low.toFixed(3)} mm.`);
  return out;
}

const PLATE = '#d8cdb8';
const PLAIN = '#7c93a1';

function pictureOf(plan: Plan, bed: Bed, on: readonly OnBed[]): Uint8Array {
  const printer = printerNamed(plan, bed.printer);
  const [w, d] = printer.size;
  const plate = Float64Array.of(0, 0, 0, w, 0, 0, w, d, 0, 0, d, 0);
  const pixels = picture(
    [
      { positions: plate, triangles: Uint32Array.of(0, 1, 2, 0, 2, 3), colour: PLATE },
      ...on.map(({ at, laid }) => ({ ...mapped(laid.mesh, placeOf(at)), colour: bed.colour ?? PLAIN })),
    ],
    WIDE,
    HIGH,
  );
  return encode(
    { width: WIDE, height: HIGH, data: new Uint8Array(pixels.buffer), channels: 4 },
    { zlib: { level: 3 } },
  );
}

/** A row for each piece on each bed. */
function bedsCsv(
  { plan, evaluation }: PrintContext,
  prints: readonly PiecePrint[],
  written: readonly WrittenBed[],
): string {
  const byKey = new Map(prints.map((p) => [p.key, p]));
  const head = 'bed,file,printer,material,colour,bed_hours,code,name,copy,x_mm,y_mm,spin_deg,hours,grams';
  const rows = written.flatMap(({ bed, file }) => {
    const printer = printerNamed(plan, bed.printer);
    const hours = bed.pieces.flatMap((p) => byKey.get(p.piece)?.estimate.hours ?? []);
    return bed.pieces.flatMap((at) => {
      const print = byKey.get(at.piece);
      const piece = evaluation.pieces.find((p) => p.key === at.piece);
      if (!print || !piece) return [];
      return [
        [
          bedName(bed, plan.beds),
          file,
          bed.printer,
          bed.material ?? printer.material ?? '',
          bed.colour ?? '',
          bedHours(printer, hours).toFixed(2),
          piece.code,
          piece.name,
          at.copy,
          at.x.toFixed(2),
          at.y.toFixed(2),
          degrees(at.spin).toFixed(1),
          print.estimate.hours.toFixed(2),
          print.estimate.grams.toFixed(1),
        ]
          .map((cell) => csvCell(String(cell)))
          .join(','),
      ];
    });
  });
  return `${[head, ...rows].join('\r\n')}\r\n`;
}
