import { passingWithin } from '../crossing/index.ts';
import { GephyraError } from '../errors.ts';
import { type Evaluation, type Piece, pieceMesh } from '../evaluate/index.ts';
import {
  type Deflate,
  type ExportFormat,
  NO_PAINT,
  type Paint,
  type Printable,
  type RawModel,
  type RawPart,
  toPrintable,
  writeModel,
  writerOf,
} from '../formats/index.ts';
import type { LoosePart } from '../mating/index.ts';
import { type Affine, boxOf, IDENTITY, type IndexedMesh, mapped, mirroring, moving } from '../mesh/index.ts';
import type { SharedFile } from './alike.ts';

/** A file to write, by a name that is safe on every system. */
export interface ExportFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** A piece as it was written. */
export interface ExportedPiece {
  readonly piece: Piece;
  readonly file: string;
  /** checked on what was written: rounded to float32, welded, collapsed triangles dropped */
  readonly watertight: boolean;
  /** places where cuts and joints pass through anything, checked on what was written */
  readonly passing: number;
  readonly triangles: number;
}

/** What is wrong with the file of a piece as it was written, as sentences; `crossed`: its body passes through itself anyway. */
export function fileFaults(
  { code, name }: Pick<Piece, 'code' | 'name'>,
  { watertight, passing }: Pick<ExportedPiece, 'watertight' | 'passing'>,
  crossed: boolean,
): string[] {
  if (!watertight) return [`The file of ${code} ${name} is not watertight.`];
  if (passing === 0 || crossed) return [];
  const places = passing === 1 ? 'one place' : `${passing} places`;
  return [
    `The file of ${code} ${name} passes through itself at ${places} of its cuts or joints. Move the seam or joint a little.`,
  ];
}

/** Bodies that pass through themselves. */
export const crossedBodies = ({ findings }: Pick<Evaluation, 'findings'>): ReadonlySet<string | undefined> =>
  new Set(findings.filter((f) => f.code === 'body.crossed').map((f) => f.where.body));

/** Files of pieces. `folder` is a safe name for where they go. */
export interface Exported {
  readonly folder: string;
  readonly files: readonly ExportFile[];
  readonly written: readonly ExportedPiece[];
}

/** How pieces are written. */
export interface ExportOptions {
  /** colours, kept by all formats but STL */
  readonly palette?: readonly Paint[];
  /** called with the share done before each piece; what it throws stops the export */
  readonly progress?: (share: number, what: string) => void;
  /** pieces that are made from another's file, see `sharedFiles` */
  readonly shared?: ReadonlyMap<string, SharedFile>;
  /** packs formats that are archives */
  readonly deflate?: Deflate | undefined;
  /** a piece as it is written: with the code of the first piece that is made from its file */
  readonly finished?: ((piece: Piece, code: string, mirrored: boolean) => Piece) | undefined;
  /** loose parts of the pieces: those that are printed get files, too */
  readonly loose?: readonly LoosePart[];
  /** where a piece's mesh (mirrored in x, where its file is) is put; without it pieces stay in their assembled places */
  readonly lay?: ((piece: Piece, mirrored: boolean, mesh: IndexedMesh) => Affine) | undefined;
}

/**
 * Writes the chosen pieces: an STL or PLY file each, or all in one 3MF or OBJ.
 *
 * Pieces that share a file are written once where each piece has a file of its own: the name
 * says how often it is wanted, and mirror twins get one mirrored file more.
 *
 * Throws GephyraError `export.nothing` when no piece is chosen.
 */
export function exportPieces(
  pieces: readonly Piece[],
  project: string,
  format: ExportFormat,
  {
    palette = NO_PAINT,
    progress = () => {},
    shared = new Map(),
    deflate,
    lay,
    finished,
    loose = [],
  }: ExportOptions = {},
): Exported {
  if (pieces.length === 0)
    throw new GephyraError('export.nothing', 'No piece is chosen, so there is nothing to export.');
  const folder = safeName(project) || 'project';
  const files: ExportFile[] = [];
  const written: ExportedPiece[] = [];
  const parts: RawPart[] = [];
  const { together, ending } = writerOf(format);
  const sources = together ? pieces.map((p) => ({ piece: p, mirrored: false, copies: [p] })) : byFile(pieces, shared);
  sources.forEach(({ piece, mirrored, copies }, i) => {
    progress(i / sources.length, `Writing ${piece.code} ${piece.name}`);
    const { mesh, tags: kinds, paint: tags } = pieceMesh(finished ? finished(piece, copies[0].code, mirrored) : piece);
    const own = mirrored ? mirrorImage(mesh) : mesh;
    const printable: Printable = toPrintable(lay ? mapped(own, lay(piece, mirrored, own)) : own);
    const count = copies.length > 1 ? ` ${copies.length}x` : '';
    const stem = safeName(`${folder} ${piece.code} ${piece.name}${mirrored ? ' mirrored' : ''}${count}`);
    const file = `${together ? folder : stem}.${ending}`;
    const part = partOf(piece, printable, tags);
    if (together) parts.push(part);
    else files.push(...writeModel(modelOfParts([{ ...part, name: stem }], palette), format, stem, deflate));
    const { watertight } = printable.topology;
    const passing = passingWithin(printable.mesh, (tag) => kinds[tag].kind !== 'skin');
    for (const p of copies)
      written.push({ piece: p, file, watertight, passing, triangles: printable.mesh.tags.length });
  });
  if (together) files.push(...writeModel(modelOfParts(parts, palette), format, folder, deflate));
  files.push(...looseFiles(loose, folder, format, deflate));
  files.push({ name: 'pieces.csv', bytes: new TextEncoder().encode(piecesCsv(written)) });
  return { folder, files, written };
}

/** Between loose parts that share a file, mm. */
const BESIDE = 4;

/** Printed loose parts as they lie on the bed: a file each, which says how often it is wanted, or all beside each other in one. */
function looseFiles(
  loose: readonly LoosePart[],
  folder: string,
  format: ExportFormat,
  deflate?: Deflate,
): ExportFile[] {
  const { together } = writerOf(format);
  let y = 0;
  const parts = loose.flatMap(({ mesh, what, count }): RawPart[] => {
    if (!mesh) return [];
    const box = boxOf(mesh.positions);
    const copies = together ? count : 1;
    return Array.from({ length: copies }, () => {
      const place: Affine = together ? moving([0, y - box.min[1], 0]) : IDENTITY;
      y += box.max[1] - box.min[1] + BESIDE;
      const { positions, triangles } = toPrintable(mapped(mesh, place)).mesh;
      return { name: count > 1 && !together ? `${what} ${count}x` : what, positions, triangles, unit: 'mm' };
    });
  });
  if (parts.length === 0) return [];
  if (together) return writeModel(modelOfParts(parts, NO_PAINT), format, safeName(`${folder} loose parts`), deflate);
  return parts.flatMap((part) => {
    const stem = safeName(`${folder} loose ${part.name}`);
    return writeModel(modelOfParts([{ ...part, name: stem }], NO_PAINT), format, stem, deflate);
  });
}

/** The files to write: of which piece, whether mirrored, and which pieces are made from it. */
function byFile(pieces: readonly Piece[], shared: ReadonlyMap<string, SharedFile>) {
  const out = new Map<string, { piece: Piece; mirrored: boolean; copies: Piece[] }>();
  for (const piece of pieces) {
    const home = shared.get(piece.key);
    const source = home && pieces.find((p) => p.key === home.of);
    const mirrored = source ? home.mirrored : false;
    const key = `${(source ?? piece).key}|${mirrored}`;
    const file = out.get(key) ?? { piece: source ?? piece, mirrored, copies: [] };
    file.copies.push(piece);
    out.set(key, file);
  }
  return [...out.values()];
}

/** A mesh mirrored in x, its triangles turned so that they still look outward. */
export const mirrorImage = (mesh: IndexedMesh): IndexedMesh => mapped(mesh, mirroring([1, 0, 0], [0, 0, 0]));

const modelOfParts = (parts: readonly RawPart[], palette: readonly Paint[]): RawModel => ({
  format: '3mf',
  parts,
  palette: parts.some((p) => p.paint) ? palette : NO_PAINT,
  notes: [],
});

/** A piece as a named surface, its skin in the colours of its body. */
function partOf(piece: Piece, { mesh }: Printable, paintOfTag: readonly number[]): RawPart {
  const paint = mesh.tags.map((t) => paintOfTag[t]);
  return {
    name: `${piece.code} ${piece.name}`,
    positions: mesh.positions,
    triangles: mesh.triangles,
    unit: 'mm',
    ...(paint.some((x) => x > 0) && { paint }),
  };
}

function piecesCsv(written: readonly ExportedPiece[]): string {
  const head = 'code,name,key,file,size_x_mm,size_y_mm,size_z_mm,fits,volume_cm3,triangles,watertight,joints';
  const rows = written.map(({ piece: p, file, watertight, triangles }) =>
    [
      p.code,
      p.name,
      p.key,
      file,
      ...p.size.map((x) => x.toFixed(3)),
      p.build.within ? 'yes' : 'no',
      (p.volume / 1000).toFixed(3),
      triangles,
      watertight ? 'yes' : 'no',
      p.joints.join(' '),
    ]
      .map((cell) => csvCell(String(cell)))
      .join(','),
  );
  return `${[head, ...rows].join('\r\n')}\r\n`;
}

/**
 * A cell as RFC 4180 wants it. A leading =, +, - or @ of a text would be run as a formula by spreadsheets, also after a
 * semicolon or a tab, at which some of them part cells.
 */
export function csvCell(text: string): string {
  const safe = Number.isNaN(Number(text)) ? text.replace(/(^|[;\t\r\n])(?=[=+@-])/g, "$1'") : text;
  return /[",;\t\r\n]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
}

/** Names that one wide-spread system keeps for devices. */
const RESERVED = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])$/;

/** A text as a file name: lower-case ASCII letters, digits and hyphens, at most 80; reserved names get an underscore. */
export function safeName(text: string): string {
  const name = text
    .normalize('NFKD')
    .replace(/[^\x20-\x7e]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 80)
    .replace(/^-+|-+$/g, '');
  return RESERVED.test(name) ? `${name}_` : name;
}
