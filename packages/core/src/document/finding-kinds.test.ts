import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { FINDINGS, type FindingCode, isListedAt, stationOf } from './finding-kinds.ts';

const src = new URL('../', import.meta.url);
const codes = Object.keys(FINDINGS) as FindingCode[];

describe('findings', () => {
  it('are all made by some check', () => {
    const text = readdirSync(src, { recursive: true, encoding: 'utf8' })
      .filter(
        (f) => f.endsWith('.ts') && !f.includes('.test.') && !f.endsWith('finding-kinds.ts') && !f.endsWith('kind.ts'),
      )
      .map((f) => readFileSync(new URL(f, src), 'utf8'))
      .join('\n');
    expect(codes.filter((code) => !text.includes(`'${code}'`))).toEqual([]);
  });

  it('are each listed where they are mended, and where else they matter', () => {
    for (const code of codes) expect(isListedAt(stationOf({ code }), { code })).toBe(true);
    expect(isListedAt('seams', { code: 'face.small' })).toBe(true);
    expect(isListedAt('seams', { code: 'face.bare' })).toBe(false);
    expect(stationOf({ code: 'bodies.overlap' })).toBe('model');
    expect(stationOf({ code: 'piece.tooBig' })).toBe('seams');
  });

  it('are in the documentation, each with when it is found', () => {
    const doc = readFileSync(new URL('../../../../docs/findings.md', import.meta.url), 'utf8');
    for (const code of codes)
      expect(doc).toContain(`| \`${code}\` | ${stationOf({ code })} | ${FINDINGS[code].when} |`);
  });
});
