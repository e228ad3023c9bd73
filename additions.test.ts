// What docs/architecture.md promises of additions: toys are made by its recipes in a copy of the sources, and the type checker, which
// wants every record by kind filled, has nothing to say.
import { spawnSync } from 'node:child_process';
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  realpathSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const root = dirname(fileURLToPath(import.meta.url));
const CORE = 'packages/core/src';
const SERVER = 'apps/server/src';

const read = (path: string): string => readFileSync(join(root, path), 'utf8');

/** A file as another one is, with some words exchanged. */
function like(path: string, words: Readonly<Record<string, string>>): string {
  return Object.entries(words).reduce((text, [from, to]) => {
    if (!text.includes(from)) throw new Error(`${path} has no “${from}”.`);
    return text.replaceAll(from, to);
  }, read(path));
}

/** What an addition takes: files of its own, and lines in files that are there: [after what, what]. */
interface Addition {
  readonly files: Readonly<Record<string, string>>;
  readonly edits: Readonly<Record<string, readonly (readonly [after: string, line: string])[]>>;
}

const KINDS = `${CORE}/joints/kinds/index.ts`;
const jointKind = (name: string, from: string): Addition => ({
  files: {
    [`${CORE}/joints/kinds/${name}/index.ts`]: like(`${CORE}/joints/kinds/${from}/index.ts`, {
      "'./": `'../${from}/`,
      [`'${from}'`]: `'${name}'`,
      [`export const ${from}:`]: `export const ${name}:`,
      [`${from}Schema`]: `${name}Schema`,
    }),
  },
  edits: {
    [KINDS]: [
      [`import { ${from} } from './${from}/index.ts';`, `\nimport { ${name} } from './${name}/index.ts';`],
      ['const KINDS = {', ` ${name},`],
    ],
  },
});

const ADDITIONS: Readonly<Record<string, Addition>> = {
  'joint kind': jointKind('stud', 'cone'),
  'carving kind': jointKind('bolt', 'ball'),
  'seam kind': {
    files: {
      [`${CORE}/seams/kinds/tube.ts`]: like(`${CORE}/seams/kinds/ring.ts`, {
        "'ring'": "'tube'",
        'const ring:': 'const tube:',
        ringSchema: 'tubeSchema',
      }),
    },
    edits: {
      [`${CORE}/seams/kinds/index.ts`]: [
        [`import { ring } from './ring.ts';`, `\nimport { tube } from './tube.ts';`],
        ['const KINDS = {', ' tube,'],
      ],
    },
  },
  finding: {
    files: {},
    edits: {
      [`${CORE}/document/finding-kinds.ts`]: [
        ['export const FINDINGS = {', `\n  'piece.point': { station: 'pieces', when: 'a piece stands on a point' },`],
      ],
    },
  },
  format: {
    files: { [`${CORE}/formats/pts.ts`]: like(`${CORE}/formats/stl.ts`, { readStl: 'readPts' }) },
    edits: {
      [`${CORE}/formats/file-formats.ts`]: [
        [`import { readPly, writePly } from './ply.ts';`, `\nimport { readPts } from './pts.ts';`],
        [`export const MODEL_ENDINGS = ['stl',`, ` 'pts',`],
        ['export const READERS: Readonly<Record<Ending, Reader>> = {', `\n  pts: { name: 'PTS', read: readPts },`],
        ['const WRITERS = {', `\n  pts: { offered: 'points', ending: 'pts', together: false, write: () => [] },`],
      ],
    },
  },
  job: {
    files: {
      [`${SERVER}/jobs/kinds/weigh.ts`]: like(`${SERVER}/jobs/kinds/health.ts`, {
        "'health'": "'weigh'",
        'const health': 'const weigh',
      }),
    },
    edits: {
      [`${SERVER}/jobs/kinds/index.ts`]: [
        [`import { summary } from './summary.ts';`, `\nimport { weigh } from './weigh.ts';`],
        ['const KINDS = {', ' weigh,'],
      ],
      'packages/contract/src/jobs.ts': [
        ['export const JOBS = {', `\n  weigh: { words: 'weighing', wish: startShape },`],
      ],
    },
  },
  'print setting': {
    files: {},
    edits: {
      [`${CORE}/document/print-setting.ts`]: [
        ['export const printSettingSchema = z.strictObject({', '\n  fan: between(0, 1).optional(),'],
        ['const COMMON: PrintSetting = {', '\n  fan: 1,'],
        [`ask.share('support', 'Support filled'),`, `\n    ask.share('fan', 'Fan'),`],
      ],
    },
  },
  station: {
    files: {
      'apps/web/src/stations/paint/index.ts': like('apps/web/src/stations/assembly/index.ts', {
        'import { nothingOpen, type Station }': 'import type { Station }',
        '(view, plan)': '(_, plan)',
        " && nothingOpen('assembly', view)": '',
        assembly: 'paint',
        Assembly: 'Paint',
      }),
      'apps/web/src/stations/paint/station.tsx':
        'export default function PaintStation() {\n  return <h1>Paint</h1>;\n}\n',
    },
    edits: {
      'apps/web/src/stations/registry.ts': [
        [`import { model } from './model/index.ts';`, `\nimport { paint } from './paint/index.ts';`],
        ['export const STATIONS: readonly Station[] = [', 'paint, '],
      ],
    },
  },
};

/** Makes all additions in a copy of the sources. */
function change(copy: string): void {
  for (const { files, edits } of Object.values(ADDITIONS)) {
    for (const [path, text] of Object.entries(files)) {
      if (existsSync(join(root, path))) throw new Error(`${path} is there already.`);
      mkdirSync(dirname(join(copy, path)), { recursive: true });
      writeFileSync(join(copy, path), text);
    }
    for (const [path, lines] of Object.entries(edits)) {
      for (const [after, line] of lines) {
        const text = readFileSync(join(copy, path), 'utf8');
        if (!text.includes(after)) throw new Error(`${path} has no “${after}”.`);
        writeFileSync(join(copy, path), text.replace(after, after + line));
      }
    }
  }
}

/** Copies the sources, tests left out, with the packages that they need; those of their own are the copies. */
function copySources(copy: string): void {
  const own = join(copy, 'node_modules', '@gephyra');
  mkdirSync(own, { recursive: true });
  for (const name of readdirSync(join(root, 'node_modules')))
    if (name !== '@gephyra') symlinkSync(join(root, 'node_modules', name), join(copy, 'node_modules', name));
  for (const folder of ['packages', 'apps']) {
    cpSync(join(root, folder), join(copy, folder), {
      recursive: true,
      filter: (path) => !/\.test\.tsx?$|\/(testing|dist|node_modules)$/.test(path),
    });
    for (const name of readdirSync(join(copy, folder))) symlinkSync(join(copy, folder, name), join(own, name));
  }
  cpSync(join(root, 'tsconfig.json'), join(copy, 'tsconfig.json'));
}

/** What the type checker says of sources with additions, a line each, and which files of the copy it has looked at. */
function checked(): { faults: string[]; files: Set<string> } {
  const copy = mkdtempSync(join(tmpdir(), 'additions-'));
  try {
    copySources(copy);
    change(copy);
    const checker = join(root, 'node_modules', '.bin', 'tsc');
    const asked = ['-p', '.', '--noEmit', '--pretty', 'false', '--listFiles'];
    const { stdout, stderr } = spawnSync(checker, asked, { cwd: copy, encoding: 'utf8', maxBuffer: 2 ** 26 });
    const lines = `${stdout}${stderr}`.split('\n').filter((line) => line !== '');
    const isFile = (line: string): boolean => line.startsWith('/') && !line.includes('): error ');
    return {
      faults: lines.filter((line) => !isFile(line)),
      files: new Set(lines.filter(isFile).map((line) => relative(realpathSync(copy), line))),
    };
  } finally {
    rmSync(copy, { recursive: true, force: true });
  }
}

describe('additions', () => {
  it.each([
    ['joint kind', 1, 1],
    ['carving kind', 1, 1],
    ['seam kind', 1, 1],
    ['finding', 0, 1],
    ['format', 1, 1],
    ['job', 1, 2],
    ['print setting', 0, 1],
    ['station', 2, 1],
  ])('a %s takes %d files of its own and a few lines in %d that are there', (what, own, there) => {
    const { files, edits } = ADDITIONS[what];
    expect([Object.keys(files).length, Object.keys(edits).length]).toEqual([own, there]);
    for (const lines of Object.values(edits)) expect(lines.length).toBeLessThanOrEqual(4);
  });

  it('made by these recipes are complete, as the type checker sees it', () => {
    const { faults, files } = checked();
    expect(faults).toEqual([]);
    for (const { files: own } of Object.values(ADDITIONS))
      for (const path of Object.keys(own)) expect([path, files.has(path)]).toEqual([path, true]);
  });
});
