import { dot, type Vec3 } from '../mesh/index.ts';

/** How thick a wall is where its nearest place on the skin is, mm, and how fast that grows there. */
export interface Thickness {
  readonly least: number;
  readonly most: number;
  /** by how much it changes for each mm along the skin; places whose slopes lie over each other may add to it */
  readonly steep: number;
  at(x: number, y: number, z: number): number;
  /** how much it grows for each mm along x, y, z; null where it is the same everywhere */
  readonly growth: ((x: number, y: number, z: number, out: Float64Array) => void) | null;
}

/** A wall that is as thick everywhere. */
export const evenWall = (thickness: number): Thickness => ({
  least: thickness,
  most: thickness,
  steep: 0,
  at: () => thickness,
  growth: null,
});

/** A place round which a wall is of another thickness. Lengths in mm. */
export interface ThickPlace {
  readonly at: Vec3;
  readonly radius: number;
  readonly thickness: number;
}

/** A wall that changes evenly from one plane to another: `along` · place is `from` where it is as thick as it begins, and `to` where it ends. */
export interface Taper {
  readonly along: Vec3;
  readonly from: number;
  readonly to: number;
  readonly thickness: number;
}

/** Beside a marked place a wall changes by no more than this for each mm. */
const STEEP = 0.5;

/**
 * A wall that is thicker or thinner towards one end, and round marked places. Where places overlap the later one counts.
 *
 *   ____________          ______
 *   ----________         /      \      a marked place: as thick as it says within its radius, and from there to the rest along
 *   taper       ---   --'        '--   a smooth slope, at most 1 in 2
 */
export function varying(thickness: number, taper: Taper | null, places: readonly ThickPlace[]): Thickness {
  if (!taper && places.length === 0) return evenWall(thickness);
  const span = taper ? taper.to - taper.from : 0;
  const base = (p: Vec3): number => {
    if (!taper || span <= 0) return thickness;
    const share = Math.max(0, Math.min(1, (dot(p, taper.along) - taper.from) / span));
    return thickness + (taper.thickness - thickness) * share;
  };
  const ends = taper ? [thickness, taper.thickness] : [thickness];
  const all = [...ends, ...places.map((p) => p.thickness)];
  const [least, most] = [Math.min(...all), Math.max(...all)];
  // a smooth step is steepest in its middle, by 1.5 times its mean
  const slope = (1.5 * (most - least)) / STEEP;
  const at = (x: number, y: number, z: number): number => {
    let now = base([x, y, z]);
    for (const place of places) {
      const away = Math.hypot(x - place.at[0], y - place.at[1], z - place.at[2]) - place.radius;
      if (away >= slope) continue;
      const s = slope > 0 ? Math.max(0, away / slope) : 0;
      now = place.thickness + (now - place.thickness) * s * s * (3 - 2 * s);
    }
    return now;
  };
  const step = 1e-3;
  return {
    least,
    most,
    steep: (span > 0 ? (most - least) / span : 0) + (places.length > 0 ? STEEP : 0),
    at,
    growth: (x, y, z, out) => {
      out[0] = (at(x + step, y, z) - at(x - step, y, z)) / (2 * step);
      out[1] = (at(x, y + step, z) - at(x, y - step, z)) / (2 * step);
      out[2] = (at(x, y, z + step) - at(x, y, z - step)) / (2 * step);
    },
  };
}

const grown = new Float64Array(3);

/**
 * Turns the way a distance rises by what the thickness adds to it: its growth at the nearest place, along the skin there, times `share`.
 * `out` is of unit length before and after.
 */
export function tilted({ growth }: Thickness, x: number, y: number, z: number, share: number, out: Float64Array): void {
  if (!growth || share === 0) return;
  growth(x, y, z, grown);
  const along = grown[0] * out[0] + grown[1] * out[1] + grown[2] * out[2];
  let length = 0;
  for (let a = 0; a < 3; a++) {
    out[a] += share * (grown[a] - along * out[a]);
    length += out[a] * out[a];
  }
  length = Math.sqrt(length) || 1;
  for (let a = 0; a < 3; a++) out[a] /= length;
}
