/** Loops as an SVG path, v upwards. */
export function pathOf(loops: readonly Float64Array[]): string {
  return loops
    .map((l) => {
      let d = '';
      for (let i = 0; i < l.length; i += 2) d += `${i === 0 ? 'M' : 'L'}${l[i].toFixed(3)} ${(-l[i + 1]).toFixed(3)}`;
      return `${d}Z`;
    })
    .join('');
}
