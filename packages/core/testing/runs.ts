/** How many cases a property draws: `n`, or so many times as many as GEPHYRA_DEEP says. */
export const runs = (n: number): number => n * Number(process.env.GEPHYRA_DEEP ?? 1);
