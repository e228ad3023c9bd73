/** A length in the words of a step: "0.125 mm". */
export const lengthText = (x: number): string => `${Number(x.toFixed(3))} mm`;
export const degreesText = (x: number): string => `${Number(((x * 180) / Math.PI).toFixed(2))}°`;
