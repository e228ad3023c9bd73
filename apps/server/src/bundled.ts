import { readFile, rename } from 'node:fs/promises';
import { basename } from 'node:path';
import process from 'node:process';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build, type Plugin, stop } from 'esbuild';

/** Packages of many small files, which load far quicker as one. All others are loaded from where they are installed. */
const TAKEN_IN = /^(@gephyra\/|zod$|zod\/)/;

const whole: Plugin = {
  name: 'whole',
  setup(pluginBuild) {
    pluginBuild.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || TAKEN_IN.test(path) ? undefined : { path, external: true },
    );
    // what stands beside a source file is still found there
    pluginBuild.onLoad({ filter: /[\\/](apps|packages)[\\/].*\.ts$/ }, async ({ path }) => {
      const text = await readFile(path, 'utf8');
      return { contents: text.replaceAll('import.meta.url', JSON.stringify(pathToFileURL(path).href)), loader: 'ts' };
    });
  },
};

const FOLDER = fileURLToPath(new URL('../dist/', import.meta.url));

const made = new Map<string, Promise<string>>();

/**
 * A TypeScript module of the server with all that it takes of ours, as one file of JavaScript; its path. Made once a process.
 * Threads and children do not inherit the loader for TypeScript, and to load hundreds of files through one took each of them
 * seconds. Rejects with what the bundler or the disk says.
 */
export function bundled(entry: URL): Promise<string> {
  const source = fileURLToPath(entry);
  const known = made.get(source) ?? make(source);
  made.set(source, known);
  // a full disk may have room again
  known.catch(() => made.delete(source));
  return known;
}

/** Bundles that are being made: after the last the bundler's own process ends, which would keep 80 MB. */
let underWay = 0;

async function make(source: string): Promise<string> {
  const file = `${FOLDER}${basename(source, '.ts')}.mjs`;
  // others may be reading it: it is there as a whole or not at all
  const part = `${file}.${process.pid}`;
  underWay++;
  await build({
    entryPoints: [source],
    outfile: part,
    bundle: true,
    platform: 'node',
    format: 'esm',
    plugins: [whole],
    logLevel: 'error',
  }).finally(() => {
    if (--underWay === 0) void stop();
  });
  await rename(part, file);
  return file;
}
