/** A least-recently-used store with a budget in bytes. */
export class ByteCache<T> {
  private readonly entries = new Map<string, { value: T; bytes: number }>();
  private used = 0;

  constructor(private readonly budget: number) {}

  clear(): void {
    this.entries.clear();
    this.used = 0;
  }

  /** What was kept under the key, or what `make` gives now. */
  get(key: string, make: () => T, bytesOf: (value: T) => number): T {
    const known = this.entries.get(key);
    if (known) {
      this.entries.delete(key);
      this.entries.set(key, known);
      return known.value;
    }
    const value = make();
    const bytes = bytesOf(value);
    this.entries.set(key, { value, bytes });
    this.used += bytes;
    for (const [oldest, entry] of this.entries) {
      if (this.used <= this.budget || oldest === key) break;
      this.entries.delete(oldest);
      this.used -= entry.bytes;
    }
    return value;
  }
}
