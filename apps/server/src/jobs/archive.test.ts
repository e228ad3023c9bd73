import type { EndedPrint } from '@gephyra/contract';
import { parsePlan } from '@gephyra/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { isArchive, readArchive, writeArchive } from './archive.ts';

const plan = parsePlan({ version: 5, printer: { name: 'Desktop 220', size: [220, 220, 250] } });
const print: EndedPrint = {
  printer: 'Desktop 220',
  bed: 'bed1',
  title: 'Bed / 1',
  pieces: [{ piece: 'b1', copy: 1, height: 60 }],
  seconds: 7200,
  layers: 300,
  pace: 1,
  failAt: 0.4,
  state: 'failed',
  share: 0.4,
  startedAt: '2026-11-14T08:20:00.000Z',
  endedAt: '2026-11-14T09:10:00.000Z',
  noted: true,
};
const source = strToU8('solid bell\nendsolid bell\n');
const wish = { projectName: 'Ebb / bell', plan, fileName: 'Ebb bell.STL', allowTruncated: true };
const printed = [
  { print, bytes: strToU8('what was printed first') },
  { print: { ...print, title: 'Bed 2', noted: false }, bytes: strToU8('and then') },
];

/** The archive with its document, or one of its files, changed. */
const changed = (bytes: Uint8Array, change: (files: Record<string, Uint8Array>) => void): Uint8Array => {
  const files = unzipSync(bytes);
  change(files);
  return zipSync(files);
};
const withDocument = (bytes: Uint8Array, change: (document: Record<string, unknown>) => void): Uint8Array =>
  changed(bytes, (files) => {
    const document = JSON.parse(strFromU8(files['gephyra-project.json']));
    change(document);
    files['gephyra-project.json'] = strToU8(JSON.stringify(document));
  });

describe('a project as a file', () => {
  it('has the source under a plain name, and gives back all that was put in, to the byte', () => {
    const { bytes, fileName } = writeArchive(wish, source, printed);
    expect(fileName).toBe('ebb-bell.gephyra.zip');
    expect(Object.keys(unzipSync(bytes)).sort()).toEqual([
      'gephyra-project.json',
      'printed/1.zip',
      'printed/2.zip',
      'source/ebb-bell.stl',
    ]);
    expect(isArchive(bytes, fileName)).toBe(true);
    const read = readArchive(bytes, fileName);
    expect(read).toMatchObject({ name: 'Ebb / bell', fileName: 'Ebb bell.STL', truncated: true });
    expect(read.plan).toEqual(plan);
    expect([...read.bytes]).toEqual([...source]);
    expect(read.prints.map((p) => p.print)).toEqual(printed.map((p) => p.print));
    expect(read.prints.map((p) => strFromU8(p.bytes))).toEqual(['what was printed first', 'and then']);
  });

  it('from before beds were sent to printers has no prints', () => {
    const { bytes } = writeArchive(wish, source, []);
    const older = withDocument(bytes, (d) => delete d.prints);
    expect(readArchive(older, 'old.zip').prints).toEqual([]);
  });

  it('is refused when a print is not what one is, or its file is gone', () => {
    const { bytes } = writeArchive(wish, source, printed);
    const wrong: [Uint8Array, RegExp][] = [
      [
        changed(bytes, (files) => delete files['printed/2.zip']),
        /“printed\/2.zip” that a bed was printed from is missing/,
      ],
      [
        withDocument(bytes, (d) => ((d.prints as { print: EndedPrint }[])[0].print.share = 3)),
        /prints\.0\.print\.share cannot be read/,
      ],
      [
        withDocument(bytes, (d) => ((d.prints as { print: { state: string } }[])[1].print.state = 'heating')),
        /prints\.1\.print\.state cannot be read/,
      ],
      [withDocument(bytes, (d) => ((d.prints as object[])[0] = { file: '../x' })), /prints\.0\.print cannot be read/],
    ];
    for (const [archive, message] of wrong) expect(() => readArchive(archive, 'ebb-bell.zip')).toThrow(message);
  });

  it('is told from other archives', () => {
    expect(isArchive(zipSync({ 'bell.stl': source }), 'models.zip')).toBe(false);
    expect(isArchive(source, 'bell.stl')).toBe(false);
  });
});
