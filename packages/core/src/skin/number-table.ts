/** Numbers by number: open addressing over flat arrays. */
export class Table {
  keys: Float64Array;
  values: Float64Array;
  private size = 0;

  constructor(capacity: number) {
    this.keys = new Float64Array(capacity).fill(-1);
    this.values = new Float64Array(capacity);
  }

  /** Where the key's value is; −1: nowhere. */
  slot(key: number): number {
    const { keys } = this;
    const mask = keys.length - 1;
    for (let s = hash(key) & mask; ; s = (s + 1) & mask) {
      if (keys[s] === key) return s;
      if (keys[s] < 0) return -1;
    }
  }

  put(key: number, value: number): void {
    if (++this.size * 2 > this.keys.length) this.grow();
    const mask = this.keys.length - 1;
    let s = hash(key) & mask;
    while (this.keys[s] >= 0) s = (s + 1) & mask;
    this.keys[s] = key;
    this.values[s] = value;
  }

  private grow(): void {
    const { keys, values } = this;
    this.keys = new Float64Array(keys.length * 2).fill(-1);
    this.values = new Float64Array(keys.length * 2);
    const mask = this.keys.length - 1;
    for (let i = 0; i < keys.length; i++) {
      if (keys[i] < 0) continue;
      let s = hash(keys[i]) & mask;
      while (this.keys[s] >= 0) s = (s + 1) & mask;
      this.keys[s] = keys[i];
      this.values[s] = values[i];
    }
  }
}

function hash(key: number): number {
  const low = key | 0;
  const high = (key / 4294967296) | 0;
  let h = Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca77);
  h ^= h >>> 15;
  return h >>> 0;
}
