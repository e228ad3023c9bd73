/** Millimetres in each unit that a field understands; degrees stand for themselves. */
const UNITS: Record<string, number> = { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4, ft: 304.8, '°': 1, deg: 1 };

/**
 * Reads a typed measure: a number, a sum ("148/2+3", "(40+2)*3") or either with a unit ("1/2 in"). A unit behind a number
 * counts for that number, one at the end after a space for the whole. Decimal commas are understood. Null when it is none.
 */
export function parseMeasure(text: string): number | null {
  const source = text.trim().toLowerCase().replace(/,/g, '.');
  const whole = /^(.*?)\s+(mm|cm|m|in|ft|deg|"|°)$/.exec(source);
  const factor = whole ? UNITS[whole[2]] : 1;
  const body = whole ? whole[1] : source;
  const tokens = body.match(/\d+\.?\d*(?:e-?\d+)?|\.\d+|mm|cm|m|in|ft|deg|["°()+\-*/]|\S/g) ?? [];
  let at = 0;
  const factorOf = (): number | null => {
    const token = tokens[at++];
    if (token === '-') {
      const x = factorOf();
      return x === null ? null : -x;
    }
    if (token === '+') return factorOf();
    let value: number | null = null;
    if (token === '(') {
      value = sum();
      if (tokens[at++] !== ')') return null;
    } else if (token !== undefined && /^[\d.]/.test(token)) value = Number(token);
    if (value === null || !Number.isFinite(value)) return null;
    const unit = UNITS[tokens[at] ?? ''];
    if (unit !== undefined) {
      at++;
      value *= unit;
    }
    return value;
  };
  const chain = (next: () => number | null, operators: string): number | null => {
    let value = next();
    while (value !== null && at < tokens.length && operators.includes(tokens[at])) {
      const operator = tokens[at++];
      const right = next();
      if (right === null) return null;
      if (operator === '*') value *= right;
      else if (operator === '/') value /= right;
      else value += operator === '+' ? right : -right;
    }
    return value;
  };
  const product = (): number | null => chain(factorOf, '*/');
  const sum = (): number | null => chain(product, '+-');
  const value = sum();
  if (value === null || at < tokens.length || !Number.isFinite(value)) return null;
  return value * factor;
}

/** A number as a field shows it: at most `digits` decimals, no trailing zeros, no minus zero. */
export function showMeasure(value: number, digits: number): string {
  return String(Number(value.toFixed(digits)) + 0);
}
