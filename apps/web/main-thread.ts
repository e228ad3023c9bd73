import type { Plugin } from 'vite';

/** How long the page's first bundle may be, characters. */
const MOST = 1_000_000;

/** So much of a file may be here all the same, characters: a word or a bound of it that is shown. */
const A_WORD = 600;

/** Geometry that belongs into the worker: here it would hold up the page, and nobody would see it but by its weight. */
const NEVER =
  /node_modules\/(manifold-3d|meshoptimizer|delaunator|@kninnug|robust-predicates)\/|packages\/core\/src\/(cut\/(?!frame|fan-place|sectors|regions)|solid|repair|skin|labels|evaluate\/passes|recipe\/steps\/(?!words)|propose\/seams\/driver)/;

/** Breaks a build off whose main thread has become too heavy, or has geometry of the worker in it. */
export const mainThread = (): Plugin => ({
  name: 'main-thread',
  generateBundle(_, bundle) {
    for (const chunk of Object.values(bundle)) {
      if (chunk.type !== 'chunk') continue;
      if (chunk.isEntry && chunk.code.length > MOST)
        this.error(`${chunk.fileName} has ${chunk.code.length} characters instead of ${MOST} at the most.`);
      const wrong = Object.entries(chunk.modules).find(([id, m]) => m.renderedLength > A_WORD && NEVER.test(id));
      if (wrong) this.error(`${chunk.fileName} holds ${wrong[0]}, which is for the worker. Look for who imports it.`);
    }
  },
});
