import { inflateSync } from 'node:zlib';
import { Blocking, checkOrder, finished, piecePrints } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { kernel } from '../../core/testing/judges.ts';
import { cutBy, flat } from '../../core/testing/plans.ts';
import { box } from '../../core/testing/shapes.ts';
import { sheetPdf } from './index.ts';

const DATE = new Date('2026-03-04T05:06:07Z');

const seams = [100, 200, 300].map((x, i) => flat(`s${i + 1}`, [x, 0, 0], [1, 0, 0]));
const dowel = { id: 'j1', kind: 'dowel' as const, seam: 's1', at: [0, 0] as [number, number], diameter: 6, depth: 15 };
const evaluation = cutBy(box([0, -20, -20], [400, 20, 20]), seams, { joints: [dowel] });
const { plan } = evaluation.context;
const context = { kernel, plan, evaluation, shared: new Map() };
const prints = [...piecePrints(context)];
const assembly = finished(checkOrder(plan, evaluation, new Blocking(evaluation)));

async function sheetOf(name: string, paper: 'A4' | 'LETTER' = 'A4') {
  const bytes = await sheetPdf({ context, prints, assembly, name, date: DATE, paper });
  return { bytes, text: Buffer.from(bytes).toString('latin1'), steps: assembly.steps.length };
}

/** What is drawn on the pages: their streams, unpacked. */
function streams(bytes: Uint8Array): string[] {
  const raw = Buffer.from(bytes);
  const out: string[] = [];
  for (let at = raw.indexOf('stream\n'); at >= 0; at = raw.indexOf('stream\n', at + 1)) {
    const end = raw.indexOf('\nendstream', at);
    if (end < 0) break;
    try {
      out.push(inflateSync(raw.subarray(at + 7, end)).toString('latin1'));
    } catch {
      // not packed
    }
  }
  return out;
}

describe('the assembly sheet', () => {
  it('is a PDF with a picture for each step and two of the whole, text that can be selected, and its date', async () => {
    const { bytes, text, steps } = await sheetOf('Ebb-bell lantern');
    expect(text.startsWith('%PDF-1.')).toBe(true);
    expect(text.trimEnd().endsWith('%%EOF')).toBe(true);
    // on white, so that none has a second image for its transparency
    expect(text.match(/\/Subtype \/Image/g)!.length).toBe(steps + 2);
    // glyphs are mapped back to letters
    expect(text).toContain('/ToUnicode');
    expect(text).toContain('20260304050607');
    const drawn = streams(bytes).join('\n');
    expect(drawn.match(/ re\b/g)!.length).toBeGreaterThan(4 + 3 * steps);
    expect(bytes.length).toBeLessThan(2e6);
  });

  it('has the size of its paper, and the same bytes for the same plan and date', async () => {
    const [a4, letter, again] = [await sheetOf('x'), await sheetOf('x', 'LETTER'), await sheetOf('x')];
    expect(a4.text).toContain('[0 0 595.28 841.89]');
    expect(letter.text).toContain('[0 0 612 792]');
    const pages = streams(a4.bytes).map((s) => s.length);
    expect(streams(again.bytes).map((s) => s.length)).toEqual(pages);
  });

  it('prints nothing over anything, however long the names are', async () => {
    const long = 'Sternpost of the ebb-bell tender, larboard quarter gallery, '.repeat(3);
    const named = { ...plan, seams: plan.seams.map((s) => ({ ...s, name: long })) };
    const e = { ...evaluation, pieces: evaluation.pieces.map((p) => ({ ...p, name: long })) };
    const own = { ...context, plan: named, evaluation: e };
    const bytes = await sheetPdf({ context: own, prints, assembly, name: 'Tender', date: DATE, paper: 'A4' });
    let lines = 0;
    for (const page of streams(bytes)) {
      // where each line of text begins
      const at = [...page.matchAll(/1 0 0 1 (\S+) (\S+) Tm/g)].map((m) => [Number(m[1]), Number(m[2])]);
      lines += at.length;
      at.forEach(([x, y], i) => {
        for (const [u, v] of at.slice(i + 1)) if (Math.abs(x - u) < 1) expect(Math.abs(y - v)).toBeGreaterThan(8);
      });
    }
    expect(lines).toBeGreaterThan(60);
  });

  it('takes any name: long ones, and letters its font does not have', async () => {
    for (const name of ['Příliš 船の模型 a/b\\c<script>', 'x'.repeat(120)]) {
      const { text } = await sheetOf(name);
      expect(text.startsWith('%PDF-1.')).toBe(true);
    }
  });
});
