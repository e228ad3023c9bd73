/** Between two words on the same thing, ms. */
const PACE = 100;

/**
 * Passes on how far a piece of work is, at most ten times a second and whenever it begins with something else. Some work tells
 * thousands of times a second: a server that passes all of that on does nothing else.
 */
export function paced(tell: (share: number, what: string) => void): (share: number, what: string) => void {
  let told = { at: Number.NEGATIVE_INFINITY, what: '' };
  return (share, what) => {
    const at = performance.now();
    if (what === told.what && at - told.at < PACE) return;
    told = { at, what };
    tell(share, what);
  };
}
