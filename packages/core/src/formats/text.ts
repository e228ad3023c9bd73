/** The decimal of at most nine digits that reads back as the same float32. */
export const shortest = (x: number): string => String(Number(x.toPrecision(9)));

/** A coordinate as text: nine digits where float32 holds it, else as many as float64 needs. */
export const decimal = (x: number): string => (Math.fround(x) === x ? shortest(x) : String(x));

/** Longer words are no numbers, bytes: no program writes more digits than this. */
const LONGEST_NUMBER = 1000;
/** What is kept of a word or a title that is only compared or shown, bytes. */
const SHOWN = 400;

const POWERS = Array.from({ length: 23 }, (_, i) => 10 ** i);

/**
 * Reads the decimal number in bytes[start … end). Not a number: NaN.
 *
 * Up to 15 digits and powers of ten up to 22 are exact by one multiplication or division (Clinger, "How to read floating
 * point numbers accurately", 1990); anything else goes the long way.
 */
export function parseNumber(bytes: Uint8Array, start: number, end: number): number {
  if (end - start > LONGEST_NUMBER) return Number.NaN;
  let i = start;
  let negative = false;
  if (bytes[i] === 45 || bytes[i] === 43) negative = bytes[i++] === 45;
  let mantissa = 0;
  let digits = 0;
  let scale = 0;
  let seen = false;
  for (; i < end; i++) {
    const c = bytes[i] - 48;
    if (c < 0 || c > 9) break;
    seen = true;
    if (mantissa > 0 || c > 0) digits++;
    mantissa = mantissa * 10 + c;
  }
  if (i < end && bytes[i] === 46) {
    for (i++; i < end; i++) {
      const c = bytes[i] - 48;
      if (c < 0 || c > 9) break;
      seen = true;
      if (mantissa > 0 || c > 0) digits++;
      mantissa = mantissa * 10 + c;
      scale--;
    }
  }
  if (!seen) return Number.NaN;
  if (i < end && (bytes[i] === 101 || bytes[i] === 69)) {
    i++;
    let back = false;
    if (i < end && (bytes[i] === 45 || bytes[i] === 43)) back = bytes[i++] === 45;
    if (i >= end) return Number.NaN;
    let power = 0;
    for (; i < end; i++) {
      const c = bytes[i] - 48;
      if (c < 0 || c > 9) return Number.NaN;
      if (power < 9999) power = power * 10 + c;
    }
    scale += back ? -power : power;
  }
  if (i !== end) return Number.NaN;
  if (digits > 15 || scale > 22 || scale < -22) return longWay(bytes, start, end);
  const value = scale < 0 ? mantissa / POWERS[-scale] : mantissa * POWERS[scale];
  return negative ? -value : value;
}

function longWay(bytes: Uint8Array, start: number, end: number): number {
  let text = '';
  for (let k = start; k < end; k++) text += String.fromCharCode(bytes[k]);
  return Number(text);
}

/** The text of a line or word for people, cut where it is longer than any name need be. */
export function shownText(bytes: Uint8Array, from: number, to: number): string {
  const text = new TextDecoder().decode(bytes.subarray(from, Math.min(to, from + SHOWN)));
  return (to - from > SHOWN ? text.replace(/\ufffd+$/, '') : text).trim();
}

/** White-space separated words of a text, with the line they stand on. */
export class Words {
  line = 1;
  /** where the last word starts and ends */
  from = 0;
  to = 0;
  constructor(
    private readonly bytes: Uint8Array,
    start = 0,
  ) {
    this.to = start;
  }

  /** Moves to the next word; false at the end of the file. */
  move(): boolean {
    const { bytes } = this;
    let i = this.to;
    while (i < bytes.length && bytes[i] <= 32) {
      if (bytes[i] === 10) this.line++;
      i++;
    }
    this.from = i;
    while (i < bytes.length && bytes[i] > 32) i++;
    this.to = i;
    return i > this.from;
  }

  /** The next word, or the beginning of a very long one; null at the end of the file. */
  next(): string | null {
    if (!this.move()) return null;
    let word = '';
    const end = Math.min(this.to, this.from + SHOWN);
    for (let k = this.from; k < end; k++) word += String.fromCharCode(this.bytes[k]);
    return word;
  }

  /** The next word as a number: NaN when it is none, or the file ends. */
  number(): number {
    return this.move() ? parseNumber(this.bytes, this.from, this.to) : Number.NaN;
  }

  /** The word that was read last, short enough for a message. */
  shown(): string {
    return new TextDecoder('latin1').decode(this.bytes.subarray(this.from, Math.min(this.to, this.from + 24)));
  }

  restOfLine(): string {
    const start = this.to;
    while (this.to < this.bytes.length && this.bytes[this.to] !== 10) this.to++;
    return shownText(this.bytes, start, this.to);
  }
}

/** A list of numbers that grows, as one typed array. */
export class Growing<T extends Float64Array | Float32Array | Uint32Array | Uint8Array> {
  length = 0;
  constructor(
    private array: T,
    private readonly make: (n: number) => T,
  ) {}

  push(x: number): void {
    if (this.length === this.array.length) {
      const grown = this.make(Math.max(16, this.array.length * 2));
      grown.set(this.array as never);
      this.array = grown;
    }
    this.array[this.length++] = x;
  }

  at(i: number): number {
    return this.array[i];
  }

  done(): T {
    return this.array.slice(0, this.length) as T;
  }
}

// they begin with nothing, as a file may open a great many
export const growingFloats = (): Growing<Float64Array> => new Growing(new Float64Array(0), (n) => new Float64Array(n));
export const growingInts = (): Growing<Uint32Array> => new Growing(new Uint32Array(0), (n) => new Uint32Array(n));
export const growingBytes = (): Growing<Uint8Array> => new Growing(new Uint8Array(0), (n) => new Uint8Array(n));
