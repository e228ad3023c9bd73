/**
 * A posed mesh over a raster of square cells: for each cell, where the line that stands on its middle goes into the mesh and
 * out of it, from below.
 *
 *      |   |   |       z     size of a cell: mm
 *      |  _|_  |             at:  cell c has the crossings first[c] … first[c + 1] − 1, by rising height
 *     _|_/ | \_|_            z:   their heights, mm
 *    ==|===|===|==           triangle: which surface is crossed; out: whether the line leaves the mesh there (facing up)
 */
export interface Columns {
  readonly size: number;
  readonly nx: number;
  readonly ny: number;
  /** middle of cell (0, 0), mm */
  readonly x0: number;
  readonly y0: number;
  readonly first: Uint32Array;
  readonly z: Float32Array;
  readonly triangle: Uint32Array;
  readonly out: Uint8Array;
}

/** Cells that a raster may have. */
const MOST_CELLS = 4_000_000;

/**
 * Rasters a mesh by the middles of cells. A line that meets an edge counts for one of its two triangles only: which rows an
 * edge crosses is decided by its ends' rows, and where, by the same sum from the same end, whichever triangle asks. So a
 * closed mesh gives every column an even number of crossings. Cells grow where there would be too many of them.
 */
export function columnsOf(
  { positions: p, triangles: t }: { readonly positions: Float64Array; readonly triangles: Uint32Array },
  wanted: number,
): Columns {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i += 3) {
    if (p[i] < minX) minX = p[i];
    if (p[i] > maxX) maxX = p[i];
    if (p[i + 1] < minY) minY = p[i + 1];
    if (p[i + 1] > maxY) maxY = p[i + 1];
  }
  if (p.length === 0) [minX, minY, maxX, maxY] = [0, 0, 0, 0];
  const size = Math.max(wanted, Math.sqrt(((maxX - minX) * (maxY - minY)) / MOST_CELLS));
  // one empty cell all round, so that what is outside hangs together
  const nx = Math.ceil((maxX - minX) / size) + 2;
  const ny = Math.ceil((maxY - minY) / size) + 2;
  const x0 = (minX + maxX) / 2 - ((nx - 1) / 2) * size;
  const y0 = (minY + maxY) / 2 - ((ny - 1) / 2) * size;
  const n = p.length / 3;
  // the first row whose middle is at or above a vertex
  const row = new Int32Array(n);
  for (let v = 0; v < n; v++) row[v] = Math.ceil((p[3 * v + 1] - y0) / size);

  const first = new Uint32Array(nx * ny + 1);
  let total = 0;
  for (let i = 0; i < t.length; i += 3) {
    // corners by rising row: one long side, and two short ones that meet at the middle corner
    let low = t[i];
    let mid = t[i + 1];
    let top = t[i + 2];
    if (row[low] > row[mid]) [low, mid] = [mid, low];
    if (row[mid] > row[top]) [mid, top] = [top, mid];
    if (row[low] > row[mid]) [low, mid] = [mid, low];
    const end = row[top];
    if (row[low] === end) continue;
    const a = 3 * t[i];
    const b = 3 * t[i + 1];
    const c = 3 * t[i + 2];
    const ax = p[a];
    const ay = p[a + 1];
    const az = p[a + 2];
    const nz = (p[b] - ax) * (p[c + 1] - ay) - (p[b + 1] - ay) * (p[c] - ax);
    const ux = (p[b + 1] - ay) * (p[c + 2] - az) - (p[b + 2] - az) * (p[c + 1] - ay);
    const uy = (p[b + 2] - az) * (p[c] - ax) - (p[b] - ax) * (p[c + 2] - az);
    const floor = Math.min(az, p[b + 2], p[c + 2]);
    const roof = Math.max(az, p[b + 2], p[c + 2]);
    for (let r = row[low]; r < end; r++) {
      const y = y0 + r * size;
      const long = crossing(p, low, top, y);
      const short = r < row[mid] ? crossing(p, low, mid, y) : crossing(p, mid, top, y);
      const to = Math.ceil(((long > short ? long : short) - x0) / size);
      for (let col = Math.ceil(((long < short ? long : short) - x0) / size); col < to; col++) {
        if (total === scratch.cell.length) scratch = grown(scratch);
        const z = nz === 0 ? floor : az - (ux * (x0 + col * size - ax) + uy * (y - ay)) / nz;
        const cell = r * nx + col;
        first[cell + 1]++;
        scratch.cell[total] = cell;
        scratch.z[total] = z < floor ? floor : z > roof ? roof : z;
        scratch.triangle[total] = nz > 0 ? i / 3 + LEAVES : i / 3;
        total++;
      }
    }
  }
  for (let cell = 0; cell < nx * ny; cell++) first[cell + 1] += first[cell];
  const z = new Float32Array(total);
  const triangle = new Uint32Array(total);
  const out = new Uint8Array(total);
  const cursor = first.slice();
  for (let k = 0; k < total; k++) {
    const at = cursor[scratch.cell[k]]++;
    z[at] = scratch.z[k];
    triangle[at] = scratch.triangle[k] & (LEAVES - 1);
    out[at] = scratch.triangle[k] >= LEAVES ? 1 : 0;
  }
  sortColumns(first, { z, triangle, out });
  return { size, nx, ny, x0, y0, first, z, triangle, out };
}

/** Set in the number of a triangle where the line leaves the mesh. */
const LEAVES = 2 ** 30;

/** Crossings in the order in which they are found; kept from one raster to the next. */
interface Scratch {
  readonly cell: Uint32Array;
  readonly z: Float32Array;
  readonly triangle: Uint32Array;
}
let scratch: Scratch = { cell: new Uint32Array(4096), z: new Float32Array(4096), triangle: new Uint32Array(4096) };

function grown({ cell, z, triangle }: Scratch): Scratch {
  const next = {
    cell: new Uint32Array(2 * cell.length),
    z: new Float32Array(2 * cell.length),
    triangle: new Uint32Array(2 * cell.length),
  };
  next.cell.set(cell);
  next.z.set(z);
  next.triangle.set(triangle);
  return next;
}

/** Where the side between two vertices meets a row: always reckoned from the lower one. */
const crossing = (p: Float64Array, from: number, to: number, y: number): number =>
  p[3 * from] + ((y - p[3 * from + 1]) / (p[3 * to + 1] - p[3 * from + 1])) * (p[3 * to] - p[3 * from]);

/** Puts the crossings of each column in order of height; where two are as high, the one that leaves comes first. */
function sortColumns(
  first: Uint32Array,
  { z, triangle, out }: { z: Float32Array; triangle: Uint32Array; out: Uint8Array },
): void {
  for (let cell = 0; cell + 1 < first.length; cell++) {
    for (let i = first[cell] + 1; i < first[cell + 1]; i++) {
      const [h, t, o] = [z[i], triangle[i], out[i]];
      let k = i - 1;
      for (; k >= first[cell] && (z[k] > h || (z[k] === h && out[k] < o)); k--) {
        z[k + 1] = z[k];
        triangle[k + 1] = triangle[k];
        out[k + 1] = out[k];
      }
      z[k + 1] = h;
      triangle[k + 1] = t;
      out[k + 1] = o;
    }
  }
}

/** What the columns hold inside the mesh, mm³: to be held against the mesh's own volume. */
export function columnsVolume({ size, z, out }: Columns): number {
  let sum = 0;
  for (let i = 0; i < z.length; i++) sum += out[i] ? z[i] : -z[i];
  return sum * size * size;
}
