import { readStl, weldExact, writeStlBinary } from '@gephyra/core';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { blob } from '../packages/core/testing/shapes.ts';
import { interleaved, type Row } from './measure.ts';

/** Reading and welding a binary STL against three's loader and vertex merge. */
export function benchRead(): Row[] {
  const ordered = writeStlBinary(
    blob(707, 707, 600, (a, z) => 150 + 14 * Math.sin(6 * a) + 15 * Math.cos(5 * z)),
    'bench',
  );
  const shuffled = ordered.slice();
  const count = (ordered.length - 84) / 50;
  let seed = 12345;
  for (let i = count - 1; i > 0; i--) {
    seed = (Math.imul(seed, 1103515245) + 12345) >>> 0;
    const j = seed % (i + 1);
    const record = shuffled.slice(84 + i * 50, 134 + i * 50);
    shuffled.copyWithin(84 + i * 50, 84 + j * 50, 134 + j * 50);
    shuffled.set(record, 84 + j * 50);
  }
  return [
    { name: 'in file order', bytes: ordered, times: 10 },
    { name: 'shuffled', bytes: shuffled, times: 5 },
  ].map(({ name, bytes, times }): Row => {
    const { ours, theirs } = interleaved(3, {
      ours: () => void weldExact(readStl(bytes).parts[0].positions),
      theirs: () => {
        const geometry = new STLLoader().parse(bytes.buffer.slice(0) as ArrayBuffer);
        geometry.deleteAttribute('normal');
        mergeVertices(geometry, 0);
      },
    });
    return {
      what: `read and weld ${(count / 1e6).toFixed(2)} M triangles, ${name}`,
      measured: `${ours.toFixed(0)} ms, three ${theirs.toFixed(0)} ms: ${(theirs / ours).toFixed(1)} ×`,
      wanted: `${times} ×`,
      ok: theirs / ours >= times,
    };
  });
}
