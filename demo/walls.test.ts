import { expect, it } from 'vitest';
import { soundWall } from '../packages/core/testing/walls.ts';
import { visorSkin } from './models.ts';

it('the visor’s skin gets a wall as thick as asked, whose rims and openings end where the skin does', () => {
  const wall = soundWall(visorSkin(4), 3, 'both');
  expect(wall.tags.length).toBeGreaterThan(1000);
});
