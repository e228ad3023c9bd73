import type { BuiltLap, LapLine } from '../joints/kinds/index.ts';
import { ByteCache, PartingCache } from '../seams/index.ts';

/**
 * What parting keeps from one run to the next, and joining:
 *
 * walls      distances from sockets to the skin
 * lapLines   where laps run
 * laps       pieces with their laps, or why there can be none
 */
export class MatingCache extends PartingCache {
  readonly walls = new ByteCache<number>(1 << 20);
  readonly lapLines = new ByteCache<LapLine | string>(1 << 24);
  readonly laps = new ByteCache<BuiltLap | string>(1 << 28);

  override forget(): void {
    super.forget();
    for (const kept of [this.walls, this.lapLines, this.laps]) kept.clear();
  }
}
