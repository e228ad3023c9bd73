import {
  axisVector,
  colourPieces,
  cross,
  type Evaluation,
  length,
  normalize,
  type Piece,
  picture,
  pieceColour,
  pieceMesh,
  proxy,
  sub,
  type Vec3,
} from '@gephyra/core';
import { PNG } from 'pngjs';

/** All pieces together are drawn with about so many triangles, each with so many at the most, and at the least. */
const DRAWN = 250_000;
const MOST = 30_000;
const LEAST = 4000;
const ARROW = '#c23b22';

interface Drawn {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
  readonly colour: string;
}

/** Pictures of pieces in their colours, as PNG bytes. */
export class Pictures {
  private readonly colours: ReadonlyMap<string, number>;
  private readonly made = new Map<string, Drawn>();
  /** a piece with more triangles is drawn with about so many */
  private readonly share: number;

  constructor({ pieces, faces }: Evaluation) {
    this.colours = colourPieces(
      pieces.map((p) => p.key),
      faces.map((f) => f.pieces),
    );
    this.share = Math.min(MOST, Math.max(LEAST, DRAWN / pieces.length));
  }

  colourOf = (key: string): string => pieceColour(this.colours.get(key) ?? 0);

  /** Pieces, each moved by so much; with an arrow from one place to another where something comes. */
  of(
    pieces: readonly { readonly piece: Piece; readonly by: Vec3 }[],
    [width, height]: readonly [number, number],
    arrow?: { readonly from: Vec3; readonly to: Vec3; readonly thick: number },
  ): Uint8Array {
    const things = pieces.map(({ piece, by }) => moved(this.drawn(piece), by));
    if (arrow) things.push(arrowMesh(arrow.from, arrow.to, arrow.thick));
    return pngOf(picture(things, width, height), width, height);
  }

  private drawn(piece: Piece): Drawn {
    const known = this.made.get(piece.key);
    if (known) return known;
    const { mesh } = pieceMesh(piece);
    const light = mesh.triangles.length / 3 > this.share ? proxy(mesh, this.share) : mesh;
    const drawn = { positions: light.positions, triangles: light.triangles, colour: this.colourOf(piece.key) };
    this.made.set(piece.key, drawn);
    return drawn;
  }
}

/** RGBA pixels as they look on paper: a picture that lets nothing through goes into a PDF as it is, without being taken apart. */
function pngOf(pixels: Uint8ClampedArray, width: number, height: number): Buffer {
  const png = new PNG({ width, height });
  png.data = Buffer.from(pixels.buffer);
  return PNG.sync.write(png, {
    colorType: 2,
    inputHasAlpha: true,
    bgColor: { red: 255, green: 255, blue: 255 },
    filterType: 0,
    deflateLevel: 3,
    deflateStrategy: 0,
  });
}

function moved({ positions, triangles, colour }: Drawn, by: Vec3): Drawn {
  if (by.every((x) => x === 0)) return { positions, triangles, colour };
  return { positions: positions.map((x, i) => x + by[i % 3]), triangles, colour };
}

/** A four-sided shaft with a head, from one place to another, mm. */
function arrowMesh(from: Vec3, to: Vec3, thick: number): Drawn {
  const along = sub(to, from);
  const size = length(along);
  const way = normalize(along);
  const least = way.map(Math.abs).indexOf(Math.min(...way.map(Math.abs)));
  const u = normalize(cross(way, axisVector(least)));
  const v = cross(way, u);
  const neck = Math.max(0, size - 4 * thick);
  const ring = (at: number, r: number): number[] =>
    [0, 1, 2, 3, 4, 5].flatMap((k) => {
      const [c, s] = [Math.cos((k * Math.PI) / 3) * r, Math.sin((k * Math.PI) / 3) * r];
      return [0, 1, 2].map((a) => from[a] + way[a] * at + u[a] * c + v[a] * s);
    });
  const positions = Float64Array.from([
    ...ring(0, thick / 2),
    ...ring(neck, thick / 2),
    ...ring(neck, 1.4 * thick),
    ...to,
  ]);
  const triangles: number[] = [];
  for (let k = 0; k < 6; k++) {
    const n = (k + 1) % 6;
    triangles.push(k, n, 6 + n, k, 6 + n, 6 + k);
    triangles.push(6 + k, 6 + n, 12 + n, 6 + k, 12 + n, 12 + k);
    triangles.push(12 + k, 12 + n, 18);
    if (k > 0 && k < 5) triangles.push(0, k + 1, k);
  }
  return { positions, triangles: Uint32Array.from(triangles), colour: ARROW };
}
