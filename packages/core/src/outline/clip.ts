import type { Loop2 } from '../mesh/index.ts';
import { type Kernel, kernelNow } from '../solid/index.ts';
import { cleaned, FINE } from './clean.ts';

type Section = InstanceType<Kernel['CrossSection']>;
/** Where loops wind other than 0 times, or more than 0 times counter-clockwise. */
export type FillRule = 'NonZero' | 'Positive';

const pairsOf = (l: Loop2): [number, number][] =>
  Array.from({ length: l.length / 2 }, (_, i) => [l[2 * i], l[2 * i + 1]]);

/** Loops of three corners or more as the kernel's cross-section, which the caller deletes. There is at least one. */
export function sectionOf(loops: readonly Loop2[], rule: FillRule): Section {
  const kernel = kernelNow();
  return new kernel.CrossSection(loops.map(pairsOf), rule);
}

/** The loops of a cross-section that the kernel made, which is deleted. */
export function loopsFrom(section: Section): Loop2[] {
  const loops = section.toPolygons().map((l): Loop2 => Float64Array.from(l.flat()));
  section.delete();
  return loops;
}

/**
 * What loops x y x y … cover together, mm: outlines counter-clockwise, holes clockwise, none crossing another. Rounds to
 * 1e-8 mm. Throws as `cleaned` does; needs the kernel to be loaded, as all of this folder.
 */
export function unite(loops: readonly Loop2[], rule: FillRule = 'NonZero'): Loop2[] {
  const clean = cleaned(loops, FINE);
  return clean.length === 0 ? [] : loopsFrom(sectionOf(clean, rule));
}

/** What two sets of loops both cover. */
export function intersect(a: readonly Loop2[], b: readonly Loop2[]): Loop2[] {
  const [first, second] = [cleaned(a, FINE), cleaned(b, FINE)];
  return first.length === 0 || second.length === 0 ? [] : both(first, second, 'intersect');
}

/** What the first covers and the second does not. */
export function subtract(a: readonly Loop2[], b: readonly Loop2[]): Loop2[] {
  const [first, second] = [cleaned(a, FINE), cleaned(b, FINE)];
  return first.length === 0 || second.length === 0 ? unite(first) : both(first, second, 'subtract');
}

function both(a: readonly Loop2[], b: readonly Loop2[], work: 'intersect' | 'subtract'): Loop2[] {
  const first = sectionOf(a, 'NonZero');
  const second = sectionOf(b, 'NonZero');
  const found = first[work](second);
  first.delete();
  second.delete();
  return loopsFrom(found);
}
