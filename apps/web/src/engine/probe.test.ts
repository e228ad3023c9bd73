import { buildBlocks } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { box } from '../../../../packages/core/testing/shapes.ts';
import { pick, probe, through } from './probe.ts';

const solid = (id: string, mesh: ReturnType<typeof box>) => ({ id, blocks: buildBlocks(mesh) });
const wall = solid('wall', box([0, 0, 0], [10, 100, 100]));
const post = solid('post', box([30, 0, 0], [50, 100, 100]));

describe('rays from a place of the model', () => {
  it('tell how thick the wall is there, and how much room there is before it', () => {
    expect(probe([wall, post], [10, 50, 50], [1, 0, 0])).toEqual({ wall: 10, room: 20 });
    expect(probe([wall, post], [0, 50, 50], [-1, 0, 0])).toEqual({ wall: 10, room: null });
    expect(probe([wall], [10, 50, 50], [-1, 0, 0])).toEqual({ wall: null, room: 10 });
  });

  it('meet the first body on their way, on the side that looks at them', () => {
    const from = pick([post, wall], [-20, 40, 60], [1, 0, 0]);
    expect(from).toEqual({ body: 'wall', at: [0, 40, 60], normal: [-1, 0, 0] });
    expect(pick([post, wall], [100, 40, 60], [-1, 0, 0])).toMatchObject({ body: 'post', normal: [1, 0, 0] });
    expect(pick([post, wall], [-20, 400, 60], [1, 0, 0])).toBeNull();
  });

  it('lead through all that lies behind a place, to where the last of it ends', () => {
    expect(through([wall, post], [0, 50, 50], [-1, 0, 0])).toEqual([50, 50, 50]);
    expect(through([wall], [0, 50, 50], [-1, 0, 0])).toEqual([10, 50, 50]);
    expect(through([wall], [0, 50, 50], [1, 0, 0])).toBeNull();
  });
});
