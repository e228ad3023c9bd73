import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { Fittings } from './fittings.ts';

describe('loose parts in the view', () => {
  it('go with their pieces, or stay where they are, and are gone with the next', () => {
    const [a, fittings] = [new THREE.Group(), new Fittings()];
    const geometry = new Map([1, 2, 3].map((id) => [id, new THREE.BufferGeometry()]));
    fittings.set(
      [
        { piece: 'a', tone: 'north', geometry: 1 },
        { piece: 'a', tone: 'south', geometry: 2 },
        { piece: null, tone: 'bought', geometry: 3 },
      ],
      geometry,
      new Map([['a', a]]),
    );
    expect(a.children.map((c) => (c as THREE.Mesh).geometry)).toEqual([geometry.get(1), geometry.get(2)]);
    const [north, south] = a.children.map((c) => (c as THREE.Mesh).material);
    expect(north).not.toBe(south);
    fittings.show(true, false);
    expect(a.children.every((c) => c.visible)).toBe(true);
    expect(fittings.group.visible).toBe(false);
    fittings.show(false, false);
    expect(a.children.some((c) => c.visible)).toBe(false);
    expect(fittings.group.children).toHaveLength(1);
    fittings.set([], new Map(), new Map());
    expect(a.children).toHaveLength(0);
    expect(fittings.group.children).toHaveLength(0);
  });
});
