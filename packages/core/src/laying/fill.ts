import { type Fixed, mirroredShadow, type NestRoom, nest, placed, type Shadow, shadowOf } from '../beds/index.ts';
import {
  type Bed,
  freeId,
  type PlacedPiece,
  type Plan,
  type PlanChange,
  type Printer,
  printSettingOf,
} from '../document/index.ts';
import type { Piece } from '../evaluate/index.ts';
import { layDown, mirroredPose, type Pose, usableSize } from '../print/index.ts';
import type { PiecePrint } from './model.ts';
import { type PrintContext, printerNamed, printMeshOf } from './prints.ts';

/** A copy of a piece that found no place, and why. */
export interface Unplaced {
  readonly piece: string;
  readonly copy: number;
  readonly why: string;
}

/** Beds as they would be, as a proposal. */
export interface Filling {
  readonly beds: readonly Bed[];
  readonly left: readonly Unplaced[];
  readonly change: PlanChange;
}

const shadows = new WeakMap<object, Map<string, Shadow>>();

/** The shadow of a printed piece as it lies, about the middle of its box; mirrored where its file is. */
export function shadowOfPrint(context: PrintContext, print: PiecePrint): Shadow {
  const piece = leadOf(context, print);
  if (!piece) return [];
  const mesh = printMeshOf(context, piece);
  const pose = leadPose(print);
  const of = shadows.get(mesh) ?? new Map<string, Shadow>();
  shadows.set(mesh, of);
  const name = `${pose.up.join()} ${pose.spin}`;
  let shadow = of.get(name);
  if (!shadow) {
    shadow = shadowOf({ positions: layDown(mesh.positions, pose).positions, triangles: mesh.triangles });
    of.set(name, shadow);
  }
  return print.mirrored ? mirroredShadow(shadow) : shadow;
}

/** The piece whose file a print is made from. */
export const leadOf = ({ evaluation }: PrintContext, print: PiecePrint): Piece | undefined =>
  evaluation.pieces.find((p) => p.key === print.of);

/** The pose of that piece: a mirrored print keeps the mirrored one. */
export const leadPose = ({ pose, mirrored }: PiecePrint): Pose => (mirrored ? mirroredPose(pose) : pose);

/** Material and colour that a piece is printed from on a printer, as far as they are said. */
const stuffOf = (plan: Plan, key: string, printer: Printer): Pick<Bed, 'material' | 'colour'> => {
  const note = plan.pieces.find((p) => p.key === key);
  const material = note?.material ?? printer.material;
  return { ...(material !== undefined && { material }), ...(note?.colour !== undefined && { colour: note.colour }) };
};

/** The room of a printer's bed without its margin, and what is kept free there. */
export function bedRoom(printer: Printer): Pick<NestRoom, 'width' | 'depth' | 'keepOut'> {
  const [width, depth] = usableSize(printer);
  const { margin, keepOut = [] } = printer;
  return { width, depth, keepOut: keepOut.map(({ at, size }) => ({ at: [at[0] - margin, at[1] - margin], size })) };
}

/** What a bed takes, hours: its pieces one after the other with filament, all at once with resin; and to warm up. */
export function bedHours(printer: Printer, hours: readonly number[]): number {
  if (hours.length === 0) return 0;
  const own = printer.kind === 'resin' ? Math.max(...hours) : hours.reduce((a, b) => a + b, 0);
  return own + printSettingOf(printer).warmUp / 60;
}

interface Copy {
  readonly print: PiecePrint;
  readonly copy: number;
  readonly shadow: Shadow;
}

/** Where something is among others that are to be together: printer, material, colour. */
const groupName = (printer: string, { material, colour }: Pick<Bed, 'material' | 'colour'>): string =>
  JSON.stringify([printer, material ?? '', colour ?? '']);

/**
 * Fills beds with all pieces, grouped by printer, material and colour, each group on as few beds as it finds. Beds that are
 * locked stay as they are, and so do single pieces that are; what else was on beds is placed anew. Deterministic.
 */
export function fillBeds(context: PrintContext, prints: readonly PiecePrint[]): Filling {
  const { plan } = context;
  const byKey = new Map(prints.map((p) => [p.key, p]));
  const locked = plan.beds.filter((b) => b.locked);
  const begun = plan.beds
    .filter((b) => !b.locked)
    .map((b): Bed => ({ ...b, pieces: b.pieces.filter((p) => p.locked && byKey.has(p.piece)) }))
    .filter((b) => b.pieces.length > 0);
  const taken = new Set([...locked, ...begun].flatMap((b) => b.pieces.map(nameOfCopy)));
  const groups = new Map<string, { printer: Printer; stuff: Pick<Bed, 'material' | 'colour'>; copies: Copy[] }>();
  for (const print of prints) {
    const printer = printerNamed(plan, print.printer);
    const stuff = stuffOf(plan, print.key, printer);
    const name = groupName(printer.name, stuff);
    const group = groups.get(name) ?? { printer, stuff, copies: [] };
    groups.set(name, group);
    for (let copy = 1; copy <= print.copies; copy++) {
      if (taken.has(nameOfCopy({ piece: print.key, copy }))) continue;
      group.copies.push({ print, copy, shadow: shadowOfPrint(context, print) });
    }
  }
  const beds: Bed[] = [...locked];
  const left: Unplaced[] = [];
  for (const [name, group] of groups) {
    const own = begun.filter((b) => groupName(b.printer, b) === name);
    beds.push(...fillGroup(context, group, own, [...beds, ...begun], byKey, left));
  }
  // beds with locked pieces whose group is gone
  beds.push(...begun.filter((b) => !beds.some((k) => k.id === b.id)));
  return { beds, left, change: { do: 'set', set: { beds: [...beds] } } };
}

/** Tells a copy of a piece from all others. */
export const nameOfCopy = ({ piece, copy }: Pick<PlacedPiece, 'piece' | 'copy'>): string => `${copy} ${piece}`;

function fillGroup(
  context: PrintContext,
  { printer, stuff, copies }: { printer: Printer; stuff: Pick<Bed, 'material' | 'colour'>; copies: readonly Copy[] },
  begun: readonly Bed[],
  known: readonly Bed[],
  byKey: ReadonlyMap<string, PiecePrint>,
  left: Unplaced[],
): Bed[] {
  const { bedding } = context.plan;
  const fits = copies.filter((c) => c.print.figures.over[2] <= 1e-6);
  left.push(
    ...copies
      .filter((c) => !fits.includes(c))
      .map(({ print, copy }) => ({ piece: print.key, copy, why: `too tall for ${printer.name}` })),
  );
  const { margin } = printer;
  const room: NestRoom = {
    ...bedRoom(printer),
    spacing: bedding.spacing,
    brim: bedding.brim,
    // what takes longer by itself has a bed of its own
    together: (hours) =>
      bedding.hours === undefined || hours.length === 1 || bedHours(printer, hours) <= bedding.hours + 1e-9,
  };
  const fixed = begun.map((bed) =>
    bed.pieces.map((p): Fixed => {
      const print = byKey.get(p.piece)!;
      return {
        shadow: placed(shadowOfPrint(context, print), p.x - margin, p.y - margin, p.spin),
        hours: print.estimate.hours,
      };
    }),
  );
  const items = fits.map(({ print, copy, shadow }) => ({
    id: nameOfCopy({ piece: print.key, copy }),
    like: `${print.of} ${print.mirrored}`,
    shadow,
    hours: print.estimate.hours,
    height: print.figures.height,
    turn: print.mirrored ? -print.figures.turn : print.figures.turn,
  }));
  const found = nest(items, room, fixed);
  const byName = new Map(fits.map((c) => [nameOfCopy({ piece: c.print.key, copy: c.copy }), c]));
  const out: Bed[] = begun.map((b) => ({ ...b }));
  while (out.length < found.beds) {
    const id = freeId('bed', [...known, ...out]);
    out.push({ id, name: '', printer: printer.name, ...stuff, locked: false, pieces: [] });
  }
  for (const { id, bed, x, y, spin } of found.placements) {
    const { print, copy } = byName.get(id)!;
    const piece = { piece: print.key, copy, x: round(x + margin), y: round(y + margin), spin, locked: false };
    out[bed] = { ...out[bed], pieces: [...out[bed].pieces, piece] };
  }
  for (const id of found.left) {
    const { print, copy } = byName.get(id)!;
    left.push({ piece: print.key, copy, why: `too large for the bed of ${printer.name}` });
  }
  return out;
}

const round = (x: number): number => Math.round(x * 1000) / 1000;
