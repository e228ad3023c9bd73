/** A place at which a section is smaller than all around it. */
export interface Neck {
  /** place of the station along the direction */
  readonly at: number;
  /** mm² */
  readonly area: number;
  /** how much larger the section gets on both sides before it gets smaller than here again, mm² */
  readonly prominence: number;
}

/** A neck counts when its prominence is at least this share of its own area. */
const LEAST = 0.15;

/**
 * The necks of a profile, most prominent first: local minima of the area by topographic prominence. The ends of the model,
 * where the area runs out to nothing, are none.
 */
export function necks({ at, area }: { readonly at: ArrayLike<number>; readonly area: ArrayLike<number> }): Neck[] {
  const out: Neck[] = [];
  const n = at.length;
  for (let i = 1; i + 1 < n; i++) {
    // the first of a level stretch that goes up on both its ends
    if (!(area[i] < area[i - 1])) continue;
    let j = i;
    while (j + 1 < n && area[j + 1] === area[i]) j++;
    if (j + 1 >= n || area[j + 1] < area[i]) continue;
    const prominence = Math.min(rise(area, i, -1), rise(area, j, 1)) - area[i];
    if (area[i] > 0 && prominence >= LEAST * area[i]) out.push({ at: (at[i] + at[j]) / 2, area: area[i], prominence });
  }
  return out.sort((a, b) => b.prominence - a.prominence);
}

/** The largest area on the way to the next place that is smaller than the start, or to the end. */
function rise(area: ArrayLike<number>, start: number, step: 1 | -1): number {
  let most = area[start];
  for (let i = start + step; i >= 0 && i < area.length && area[i] >= area[start]; i += step)
    most = Math.max(most, area[i]);
  return most;
}
