import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const root = dirname(fileURLToPath(import.meta.url));

const JOINTS = ['pin', 'key', 'cone', 'dowel', 'snap', 'ball', 'hinge', 'screw', 'magnet', 'lap'];

/** What the folders of each package may import from, in the order of the data's way. A new folder is written down here. */
const HOUSE: Record<string, Record<string, readonly string[]>> = {
  'packages/contract/src': { '.': [] },
  'packages/sheet/src': { '.': [] },
  'packages/core/src': {
    mesh: [],
    solid: ['mesh'],
    formats: ['mesh'],
    crossing: ['mesh'],
    body: ['mesh', 'formats', 'crossing'],
    repair: ['mesh', 'crossing', 'body'],
    outline: ['mesh', 'solid'],
    cut: ['mesh', 'outline'],
    joints: ['mesh', 'cut', 'solid'],
    skin: ['mesh'],
    ...Object.fromEntries(JOINTS.map((kind) => [`joints/kinds/${kind}`, ['mesh', 'cut', 'joints', 'joints/kinds']])),
    'joints/kinds': ['joints', ...JOINTS.map((k) => `joints/kinds/${k}`)],
    'seams/kinds': ['mesh', 'cut'],
    document: ['joints', 'joints/kinds', 'seams/kinds'],
    recipe: ['recipe/steps', 'mesh', 'formats', 'cut', 'solid', 'document', 'body'],
    'recipe/steps': ['mesh', 'formats', 'repair', 'cut', 'skin', 'solid', 'document', 'recipe', 'body', 'crossing'],
    seams: [
      'seams/kinds',
      'mesh',
      'outline',
      'cut',
      'solid',
      'joints',
      'joints/kinds',
      'document',
      'recipe',
      'show',
      'body',
      'crossing',
    ],
    mating: ['mesh', 'cut', 'joints', 'joints/kinds', 'document', 'seams', 'solid'],
    print: ['mesh', 'solid', 'document'],
    show: ['mesh', 'document'],
    evaluate: [
      'evaluate/passes',
      'mesh',
      'formats',
      'cut',
      'solid',
      'joints',
      'joints/kinds',
      'document',
      'recipe',
      'seams',
      'mating',
      'print',
      'show',
      'body',
      'crossing',
    ],
    'evaluate/passes': ['mesh', 'cut', 'joints', 'document', 'recipe', 'seams', 'mating', 'print', 'evaluate'],
    'propose/seek': ['mesh', 'outline', 'cut', 'document', 'print'],
    'propose/seams': [
      'propose/seek',
      'joints',
      'mesh',
      'cut',
      'solid',
      'document',
      'recipe',
      'seams',
      'print',
      'show',
      'evaluate',
      'body',
    ],
    'propose/seat': ['mesh', 'cut', 'joints', 'joints/kinds', 'document', 'seams', 'mating', 'print', 'evaluate'],
    labels: ['mesh', 'cut', 'joints', 'document', 'evaluate'],
    output: [
      'mesh',
      'formats',
      'cut',
      'joints',
      'joints/kinds',
      'document',
      'seams',
      'mating',
      'evaluate',
      'labels',
      'crossing',
    ],
    beds: ['mesh', 'outline'],
    progress: ['mesh', 'document', 'evaluate', 'mating', 'print', 'laying', 'assembly', 'propose/seat'],
    assembly: ['mesh', 'solid', 'joints', 'joints/kinds', 'document', 'seams', 'mating', 'evaluate'],
    laying: [
      'mesh',
      'joints',
      'joints/kinds',
      'solid',
      'formats',
      'document',
      'print',
      'beds',
      'evaluate',
      'labels',
      'output',
      'crossing',
    ],
  },
  'apps/server/src': {
    db: ['.'],
    printers: ['db'],
    jobs: ['.', 'db', 'jobs/kinds', 'printers'],
    'jobs/kinds': ['jobs'],
    routes: ['.', 'jobs', 'printers'],
  },
  'apps/cli/src': {},
  'apps/web/src': {
    ui: [],
    api: ['ui'],
    engine: [],
    equipment: ['api', 'ui'],
    project: ['api', 'engine', 'ui'],
    view: ['engine', 'project', 'ui'],
    'stations/model': ['api', 'engine', 'equipment', 'project', 'stations', 'ui', 'view'],
    'stations/seams': ['engine', 'project', 'stations', 'ui', 'view'],
    'stations/joints': ['engine', 'equipment', 'project', 'stations', 'ui', 'view'],
    'stations/pieces': ['engine', 'project', 'stations', 'ui'],
    'stations/beds': ['engine', 'equipment', 'project', 'stations', 'ui'],
    'stations/assembly': ['engine', 'project', 'stations', 'ui'],
    'stations/workshop': ['api', 'engine', 'project', 'stations', 'ui'],
    stations: [
      'engine',
      'stations/assembly',
      'stations/workshop',
      'stations/model',
      'stations/seams',
      'stations/joints',
      'stations/pieces',
      'stations/beds',
    ],
    pages: ['api', 'engine', 'equipment', 'ui'],
    app: ['api', 'engine', 'pages', 'project', 'stations', 'ui', 'view'],
  },
};

/** Pairs of rooms that lean on each other, and why they may. */
const BOTH_WAYS: Readonly<Record<string, string>> = {
  'packages/core/src: recipe + recipe/steps':
    'the registry of steps is run by the recipe; steps work on the model as it keeps it',
  'packages/core/src: evaluate + evaluate/passes':
    'passes are stretches of one computation, and fill in what it gives out',
  'apps/server/src: jobs + jobs/kinds':
    'the list of kinds is called by the jobs; kinds are written with what all jobs have',
  ...Object.fromEntries(
    JOINTS.map((kind) => [
      `packages/core/src: joints/kinds + joints/kinds/${kind}`,
      'the registry lists the kinds; each is a description of the form that the registry asks for',
    ]),
  ),
  ...Object.fromEntries(
    ['model', 'seams', 'joints', 'pieces', 'beds', 'assembly', 'workshop'].map((s) => [
      `apps/web/src: stations + stations/${s}`,
      'the registry lists the stations; each says what it is in the words of the registry',
    ]),
  ),
};

interface SourceFile {
  readonly pack: string;
  /** within its package; '.' for the files beside the folders, which may import from all of them */
  readonly folder: string;
  readonly path: string;
  readonly text: string;
  /** files that it imports, as paths from the root */
  readonly imports: readonly string[];
}

const isSource = (name: string): boolean => /\.(tsx?|mjs)$/.test(name) && !/\.(test\.tsx?|d\.ts)$/.test(name);

const files: SourceFile[] = Object.keys(HOUSE).flatMap((pack) =>
  readdirSync(join(root, pack), { recursive: true, encoding: 'utf8' })
    .filter(isSource)
    .map((name): SourceFile => {
      const path = join(pack, name);
      const text = readFileSync(join(root, path), 'utf8');
      const found = [...text.matchAll(/(?:from|import\() ?'(\.[^']+)'/g)];
      return {
        pack,
        folder: dirname(name),
        path,
        text,
        imports: found.map(([, to]) => normalize(join(dirname(path), to))),
      };
    }),
);
const byPath = new Map(files.map((f) => [f.path, f]));

/** Groups of files of which each leads to all others by imports, types included (Tarjan 1972). */
function circles(): string[][] {
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const found: string[][] = [];
  const visit = (path: string): void => {
    index.set(path, index.size);
    low.set(path, index.get(path)!);
    stack.push(path);
    for (const to of byPath.get(path)!.imports) {
      if (!byPath.has(to)) continue;
      if (!index.has(to)) visit(to);
      if (stack.includes(to)) low.set(path, Math.min(low.get(path)!, low.get(to)!));
    }
    if (low.get(path) !== index.get(path)) return;
    const group = stack.splice(stack.indexOf(path));
    if (group.length > 1) found.push(group.sort());
  };
  for (const { path } of files) if (!index.has(path)) visit(path);
  return found;
}

describe('the layers of the house', () => {
  it('are all declared', () => {
    const folders = new Set(files.filter((f) => f.folder !== '.').map((f) => `${f.pack}/${f.folder}`));
    const declared = Object.entries(HOUSE).flatMap(([pack, list]) => Object.keys(list).map((f) => join(pack, f)));
    expect([...folders].sort()).toEqual(declared.filter((f) => !Object.hasOwn(HOUSE, f)).sort());
    const packages = ['packages', 'apps'].flatMap((d) => readdirSync(join(root, d)).map((p) => `${d}/${p}/src`));
    expect(packages.filter((p) => existsSync(join(root, p))).sort()).toEqual(Object.keys(HOUSE).sort());
  });

  it('point one way', () => {
    const wrong = files.flatMap(({ pack, folder, path, imports }) =>
      imports.flatMap((to) => {
        const target = relative(pack, dirname(to)) || '.';
        if (folder === '.' || target === folder || !byPath.has(to)) return [];
        // what everything may use lies beside the folders of the core
        const shared = pack === 'packages/core/src' && target === '.' && !to.endsWith('/index.ts');
        return shared || HOUSE[pack][folder].includes(target) ? [] : [`${path} imports ${to}`];
      }),
    );
    expect(wrong).toEqual([]);
  });

  it('lean on each other only where that has a reason', () => {
    const pairs = Object.entries(HOUSE).flatMap(([pack, rooms]) =>
      Object.entries(rooms).flatMap(([room, on]) =>
        on
          .filter((other) => room < other && rooms[other]?.includes(room))
          .map((other) => `${pack}: ${room} + ${other}`),
      ),
    );
    expect(pairs.sort()).toEqual(Object.keys(BOTH_WAYS).sort());
  });

  it('stand on a basement of the core that leans on none of them', () => {
    const inCore = files.filter((f) => f.pack === 'packages/core/src');
    const basement = inCore.filter(
      ({ folder, path }) =>
        folder === '.' &&
        !path.endsWith('/index.ts') &&
        inCore.some((f) => f.folder !== '.' && f.imports.includes(path)),
    );
    expect(basement.length).toBeGreaterThan(3);
    const wrong = basement.flatMap(({ path, imports }) =>
      imports.filter((to) => dirname(to) !== dirname(path)).map((to) => `${path} imports ${to}`),
    );
    expect(wrong).toEqual([]);
  });

  it('of the core are entered by their index', () => {
    const wrong = files.flatMap(({ pack, folder, path, imports }) =>
      imports
        .filter((to) => pack === 'packages/core/src' && dirname(to) !== dirname(path))
        .filter((to) => dirname(to) !== pack && !to.endsWith('/index.ts') && folder !== '.')
        // a room within a room is part of it
        .filter((to) => !path.startsWith(`${dirname(to)}/`) && !to.startsWith(`${dirname(path)}/`))
        .map((to) => `${path} imports ${to}`),
    );
    expect(wrong).toEqual([]);
  });

  it('let the page in by the plan: the rest of the core is for its workers', () => {
    const page = files.filter((f) => f.pack === 'apps/web/src' && f.folder !== 'engine');
    expect(page.some((f) => f.text.includes("'@gephyra/core/plan'"))).toBe(true);
    expect(page.filter((f) => f.text.includes("'@gephyra/core'")).map((f) => f.path)).toEqual([]);
  });

  it('have no circle of files', () => {
    expect(circles()).toEqual([]);
  });

  it('of the core use neither Node nor the page', () => {
    const wrong = files
      .filter((f) => f.pack === 'packages/core/src')
      .filter(({ text }) => /from 'node:|\b(document|window|process|localStorage)\.[a-z]/.test(text));
    expect(wrong.map((f) => f.path)).toEqual([]);
  });
});
