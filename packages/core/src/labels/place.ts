import type { CapRegion, Frame } from '../cut/index.ts';
import { convexGap, edgeDistance, outlineRoom, poleOf } from '../joints/index.ts';
import { cross, dot, type Loop2, normalize, type Vec3 } from '../mesh/index.ts';
import { arrowStrokes, arrowWidth, strokesOf, textWidth } from './glyphs.ts';

/** How a text lies on a face. */
export interface LabelPlace {
  /** middle of the text in the face's frame, mm */
  readonly u: number;
  readonly v: number;
  /** where its lines run and where its tops point, unit vectors of (u, v) */
  readonly right: readonly [number, number];
  readonly up: readonly [number, number];
  readonly height: number;
  readonly width: number;
  /** the model's own up lies in the face: an arrow before the text says so */
  readonly arrow: boolean;
}

export interface LabelWish {
  /** of the letters, mm, the one liked most first */
  readonly heights: readonly number[];
  /** least material beside it, to the rim and to joints, mm */
  readonly wall: number;
  /** the file is mirrored afterwards, and shall read the right way round then */
  readonly mirrored: boolean;
}

/** Faces that lean no more than this from level, as the share of up that lies in them, have no up of their own. */
const LEVEL = 0.5;
/** The face is looked over in so many steps each way, and so many of the roomiest places are tried. */
const STEPS = 20;
const TRIED = 60;

/**
 * Ways of a text on a cap, read from outside its piece: up as the model has it, or towards its back on a level face.
 *
 *      n out of the piece, towards the reader
 *      up = z without its share along n;  right = up × n
 */
export function waysOfText(
  { u, v, normal }: Frame,
  side: number,
  mirrored: boolean,
): Pick<LabelPlace, 'right' | 'up' | 'arrow'> {
  const out = normal.map((x) => (side < 0 ? x : -x)) as unknown as Vec3;
  const within = (d: Vec3): Vec3 => {
    const along = dot(d, out);
    return [d[0] - along * out[0], d[1] - along * out[1], d[2] - along * out[2]];
  };
  const upright = within([0, 0, 1]);
  const arrow = Math.hypot(...upright) > LEVEL;
  const up = normalize(arrow ? upright : within([0, 1, 0]));
  const right = cross(up, out).map((x) => (mirrored ? -x : x)) as unknown as Vec3;
  return { right: [dot(right, u), dot(right, v)], up: [dot(up, u), dot(up, v)], arrow };
}

/**
 * Where a text has room on a cap: beside the mouths of joints and the rim, as far from both as there is, in the largest of
 * the heights that fits. Null where none has room.
 */
export function labelPlace(
  region: CapRegion,
  mouths: readonly Loop2[],
  frame: Frame,
  text: string,
  wish: LabelWish,
): LabelPlace | null {
  const ways = waysOfText(frame, region.side, wish.mirrored);
  const places = roomiest(region);
  for (const height of wish.heights) {
    const width = textWidth(text, height) + (ways.arrow ? arrowWidth(height) + height * 0.3 : 0);
    for (const { u, v, room } of places) {
      if (room < height / 2 + wish.wall) break;
      const place = { u, v, ...ways, height, width };
      const around = rectangle(place);
      if (mouths.some((m) => convexGap(around, m) < wish.wall)) continue;
      if (outlineRoom(region, around) < wish.wall) continue;
      return place;
    }
  }
  return null;
}

const known = new WeakMap<CapRegion, readonly { u: number; v: number; room: number }[]>();

/** Places of a region, those with the most room round them first. */
function roomiest(region: CapRegion): readonly { readonly u: number; readonly v: number; readonly room: number }[] {
  const kept = known.get(region);
  if (kept) return kept;
  const { outer2 } = region;
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < outer2.length; i += 2) {
    u0 = Math.min(u0, outer2[i]);
    u1 = Math.max(u1, outer2[i]);
    v0 = Math.min(v0, outer2[i + 1]);
    v1 = Math.max(v1, outer2[i + 1]);
  }
  const pole = poleOf(region);
  const places = [{ u: pole.u, v: pole.v, room: pole.distance }];
  for (let i = 0; i < STEPS; i++) {
    for (let j = 0; j < STEPS; j++) {
      const u = u0 + ((i + 0.5) / STEPS) * (u1 - u0);
      const v = v0 + ((j + 0.5) / STEPS) * (v1 - v0);
      const room = edgeDistance(region, u, v);
      if (room > 0) places.push({ u, v, room });
    }
  }
  const sorted = places.sort((a, b) => b.room - a.room).slice(0, TRIED);
  known.set(region, sorted);
  return sorted;
}

/** A loop of text coordinates (from the middle) on the face, counter-clockwise there. */
function onFace({ u, v, right, up }: LabelPlace, loop: Loop2, dx: number, dy: number): Loop2 {
  const n = loop.length / 2;
  const turned = right[0] * up[1] - right[1] * up[0] < 0;
  const out = new Float64Array(loop.length);
  for (let i = 0; i < n; i++) {
    const k = turned ? n - 1 - i : i;
    const [x, y] = [loop[2 * k] + dx, loop[2 * k + 1] + dy];
    out[2 * i] = u + x * right[0] + y * up[0];
    out[2 * i + 1] = v + x * right[1] + y * up[1];
  }
  return out;
}

const rectangle = (place: LabelPlace): Loop2 => {
  const [w, h] = [place.width / 2, place.height / 2];
  return onFace(place, Float64Array.of(-w, -h, w, -h, w, h, -w, h), 0, 0);
};

/** The strokes of a text at its place on the face. */
export function labelStrokes(place: LabelPlace, text: string): Loop2[] {
  const { width, height } = place;
  const start = place.arrow ? width - textWidth(text, height) : 0;
  return [
    ...(place.arrow ? arrowStrokes(height).map((l) => onFace(place, l, -width / 2, -height / 2)) : []),
    ...strokesOf(text, height).map((l) => onFace(place, l, start - width / 2, -height / 2)),
  ];
}

/** The outline that a text takes up on its face. */
export const labelOutline = rectangle;
