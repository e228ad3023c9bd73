import { createHash } from 'node:crypto';
import { deflateRawSync } from 'node:zlib';
import fc from 'fast-check';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { unzipFiles } from './zip.ts';
import { packZip } from './zip-write.ts';

const files = fc.uniqueArray(
  fc.record({
    name: fc.stringMatching(/^[a-zäß][\w ä-]{0,20}\.stl$/),
    bytes: fc.oneof(
      fc.uint8Array({ maxLength: 300 }),
      fc.tuple(fc.nat(255), fc.nat(5000)).map(([x, n]) => new Uint8Array(n).fill(x)),
    ),
  }),
  { selector: (f) => f.name, maxLength: 6 },
);

describe('packZip', () => {
  it('gives back what went in, by either packer', () => {
    fc.assert(
      fc.property(files, fc.boolean(), (list, native) => {
        const archive = native ? packZip(list, (b) => deflateRawSync(b)) : packZip(list);
        const found = unzipSync(archive);
        expect(Object.keys(found).sort()).toEqual(list.map((f) => f.name).sort());
        for (const { name, bytes } of list) expect(Buffer.compare(found[name], bytes)).toBe(0);
      }),
    );
  });

  it('stores what does not get smaller, and packs what does', () => {
    const noise = createHash('shake256', { outputLength: 999 }).update('noise').digest();
    expect(packZip([{ name: 'noise', bytes: noise }]).length).toBeGreaterThan(999);
    expect(packZip([{ name: 'zeros', bytes: new Uint8Array(9999) }]).length).toBeLessThan(300);
  });

  it('has checksums and names that a reader who looks at them accepts', () => {
    const text = new TextEncoder().encode('Reeve'.repeat(500));
    const archive = packZip([
      { name: 'bell rope/Größe.stl', bytes: text },
      { name: 'empty.stl', bytes: new Uint8Array(0) },
    ]);
    const found = [...unzipFiles(archive, 'x.zip', () => true)];
    expect(found.map(([name, bytes]) => [name, bytes.length])).toEqual([
      ['bell rope/Größe.stl', 2500],
      ['empty.stl', 0],
    ]);
    // one byte of what was packed
    const broken = archive.slice();
    broken[60] ^= 4;
    expect(() => unzipFiles(broken, 'x.zip', () => true)).toThrow(/damaged/);
  });
});
