import type { SeamReason } from '../../document/index.ts';
import type { Piece } from '../../evaluate/index.ts';
import { stripOf } from '../../joints/index.ts';
import { dot, pointAlong, sizeOf, three, type Vec3 } from '../../mesh/index.ts';
import { usableSize, withinBuild } from '../../print/index.ts';
import type { Cut, Driver, NewCut } from './driver.ts';
import type { Proposal, ProposeWish } from './proposal.ts';

/** How far seams may be moved towards one another, mm: first where they leave thin strips, then also farther. */
const NEAR = [12, 30];
/** Faces and lines on the skin may grow by this share for it. */
const DEARER = 0.02;
/** Planes that differ by no more lie in one, mm. */
const SAME = 0.02;
/** Faces thinner than this carry no joint worth the name, mm. */
const THIN = 6;
/** Ways of cutting the model anew that are tried at most each time, and triangles times cuts that all of them may take. */
const TRIES = 10;
const WORK = 5e6;

/**
 *      │  ┌──┴──┐          │  ┌──┴──┐
 *   ───┘  │     │    →   ──┴──┤     │     two seams that end 3 mm apart on either side of a third leave a strip
 *         └──┬──┘             └──┬──┘     between them that no joint fits on
 *
 * Seams that nearly lie in one plane are moved into one, as far as all pieces still fit, and become one seam on several pieces:
 * fewer planes to look after, and no thin strips. Seams in creases stay. Where both sides are kept alike, zones kept clear or faces
 * to be seen, nothing is moved: then only seams in the very same plane become one. Gives what was found where nothing is gained.
 *
 * `fresh`: a driver that has cut nothing yet. `goOn`: asked before each way of cutting anew that is tried.
 */
export function aligned(
  found: Proposal,
  driver: Driver,
  fresh: () => Driver,
  wish: ProposeWish,
  goOn: () => boolean,
): Proposal {
  let best = { proposal: found, driver };
  for (const near of NEAR) {
    const { cuts } = best.driver;
    const all = groupsOf(spansOf(best.proposal, cuts, wish, near));
    let tries = Math.min(TRIES, Math.max(1, Math.floor(WORK / (trianglesOf(found) * cuts.length))));
    let taken: readonly Together[] = [];
    const attempt = (more: readonly Together[]): void => {
      if (more.length === 0 || tries-- <= 0 || !goOn()) return;
      const groups = [...taken, ...more];
      const other = fresh();
      const proposal = other.replay(inOrder(cuts, groups)) ? other.proposal() : null;
      if (proposal && isBetter(proposal, best.proposal)) {
        best = { proposal, driver: other };
        taken = groups;
      } else if (more.length > 1) {
        const half = more.length >> 1;
        attempt(more.slice(0, half));
        attempt(more.slice(half));
      }
    };
    attempt(all);
  }
  return best.proposal;
}

const trianglesOf = ({ evaluation }: Proposal): number => evaluation.pieces.reduce((n, p) => n + p.triangles, 0);

/** As good in every way that tells, or nearly, with fewer seams. */
function isBetter({ figures: a, seams, evaluation, unlike }: Proposal, before: Proposal): boolean {
  const { figures: b } = before;
  const same = a.pieces === b.pieces && a.fits >= b.fits && a.closed >= b.closed && a.slivers <= b.slivers;
  return (
    same &&
    a.seamArea <= b.seamArea * (1 + DEARER) &&
    a.seenLength <= b.seenLength * (1 + DEARER) &&
    seams.length < before.seams.length &&
    (unlike ?? 0) <= (before.unlike ?? 0) &&
    thinFaces(evaluation.faces) <= thinFaces(before.evaluation.faces)
  );
}

const thinFaces = (faces: Proposal['evaluation']['faces']): number =>
  faces.filter((f) => stripOf(f.region).thickness < THIN).length;

/** Where along its direction a cut may lie, mm: its pieces fit there, as far as the others stay. */
interface Span {
  readonly cut: number;
  readonly normal: Vec3;
  readonly at: number;
  readonly from: number;
  readonly to: number;
}

function spansOf({ evaluation, plan }: Proposal, cuts: readonly Cut[], wish: ProposeWish, near: number): Span[] {
  const still = !!wish.mirror || plan.zones.length > 0 || plan.show.length > 0;
  const pieces = new Map(evaluation.pieces.map((p) => [p.key, p]));
  /** what of a piece's growth along an axis its printer leaves, mm */
  const slack = (key: string, axis: number): number => {
    const piece = pieces.get(key);
    if (!piece) return 0;
    const sides = new Set(
      evaluation.faces.flatMap((f) => {
        const side = f.pieces.indexOf(key);
        return side >= 0 && Math.abs(f.frame.normal[axis]) > 1 - 1e-9 ? `${side}${f.frame.normal[axis] > 0}` : [];
      }),
    );
    return Math.max(0, longest(piece, axis, wish) - sizeOf(piece.box)[axis] - sides.size * wish.jointRoom);
  };
  return cuts.flatMap(({ seam, reasons }, cut): Span[] => {
    const faces = evaluation.faces.filter((f) => f.seam === seam);
    if (faces.length === 0) return [];
    const { normal, origin } = faces[0].frame;
    const at = dot(normal, origin);
    const axis = three((k) => k).find((k) => Math.abs(normal[k]) > 1 - 1e-9);
    const stays = still || reasons.some((r) => r.kind === 'crease');
    const most = stays || axis === undefined ? SAME : near;
    const room = (side: 0 | 1): number =>
      axis === undefined ? most : Math.min(most, ...faces.map((f) => slack(f.pieces[side], axis)));
    return [{ cut, normal, at, from: at - Math.max(SAME, room(1)), to: at + Math.max(SAME, room(0)) }];
  });
}

/** How long a piece may be along an axis, with its other sides as they are, mm. */
function longest({ box }: Piece, axis: number, { printers }: ProposeWish): number {
  const size = sizeOf(box);
  let most = size[axis];
  for (const printer of printers) {
    for (const length of usableSize(printer)) {
      const tried = three((k) => (k === axis ? length - 1e-6 : size[k]));
      if (length > most && withinBuild(printer, tried).within) most = length;
    }
  }
  return most;
}

/** Cuts that can lie in one plane, and where that is along their direction, mm. */
interface Together {
  readonly members: readonly { readonly cut: number; readonly move: Vec3 }[];
}

/** Groups of spans of one direction with a common place: stabbed from below, each taken once. */
function groupsOf(spans: readonly Span[]): Together[] {
  const groups: Together[] = [];
  let rest = [...spans].sort((a, b) => a.to - b.to);
  while (rest.length > 0) {
    const [first] = rest;
    const own = rest.filter((s) => dot(s.normal, first.normal) > 1 - 1e-12 && s.from <= first.to);
    rest = rest.filter((s) => !own.includes(s));
    if (own.length < 2) continue;
    const from = Math.max(...own.map((s) => s.from));
    const mean = own.reduce((sum, s) => sum + s.at, 0) / own.length;
    const wanted = Math.min(first.to, Math.max(from, mean));
    // where one of them lies already, if that will do
    const [kept] = own
      .map((s) => s.at)
      .filter((x) => x >= from && x <= first.to)
      .sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted));
    const place = kept ?? wanted;
    groups.push({
      members: own.map(({ cut, normal, at }) => ({ cut, move: three((k) => normal[k] * (place - at)) })),
    });
  }
  return groups;
}

/** All cuts, those of a group as one, each after those whose pieces it cuts. A group that waits for itself is left apart. */
function inOrder(cuts: readonly Cut[], groups: readonly Together[]): NewCut[] {
  const grouped = new Set(groups.flatMap((g) => g.members.map((m) => m.cut)));
  const alone = cuts.flatMap((_, cut): Together[] => (grouped.has(cut) ? [] : [lone(cut)]));
  let waiting = [...groups, ...alone].sort((a, b) => firstOf(a) - firstOf(b));
  const done = new Set<number>();
  const out: NewCut[] = [];
  while (waiting.length > 0) {
    const next = waiting.find((g) => g.members.every(({ cut }) => cuts[cut].after.every((a) => done.has(a))));
    if (!next) {
      const [tangled] = waiting.filter((g) => g.members.length > 1);
      waiting = [...waiting.filter((g) => g !== tangled), ...tangled.members.map((m) => lone(m.cut))];
      waiting.sort((a, b) => firstOf(a) - firstOf(b));
      continue;
    }
    waiting = waiting.filter((g) => g !== next);
    for (const { cut } of next.members) done.add(cut);
    out.push(madeOf(cuts, next));
  }
  return out;
}

const lone = (cut: number): Together => ({ members: [{ cut, move: [0, 0, 0] }] });

const firstOf = ({ members }: Together): number => Math.min(...members.map((m) => m.cut));

function madeOf(cuts: readonly Cut[], { members }: Together): NewCut {
  const own = members.map(({ cut, move }) => ({ ...cuts[cut], move }));
  const [{ frame, move }] = own;
  return {
    frame: { ...frame, origin: pointAlong(frame.origin, move, 1) },
    seeds: own.flatMap((c) => c.seeds.map((p) => pointAlong(p, c.move, 1))),
    on: own.flatMap((c) => c.on),
    reasons: own.length > 1 ? jointReasons(own) : own[0].reasons,
  };
}

/** Why a seam is there that was several: what was said of the place of one is not true of all. */
function jointReasons(own: readonly NewCut[]): SeamReason[] {
  const all = own.flatMap((c) => c.reasons);
  const fits = all.filter((r) => r.kind === 'fits');
  const [alike] = all.filter((r) => r.kind === 'alike');
  const same = all.filter((r) => r.kind === 'alike' && r.how === alike?.how).length === own.length;
  return [
    {
      kind: 'fits',
      pieces: fits.reduce((sum, r) => sum + r.pieces, 0),
      further: fits.reduce((sum, r) => sum + r.further, 0),
    },
    ...(alike && same ? [alike] : []),
    { kind: 'shared', limbs: own.reduce((sum, c) => sum + c.seeds.length, 0) },
  ];
}
