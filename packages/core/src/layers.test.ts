import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const here = dirname(fileURLToPath(import.meta.url));

/** What each folder may import from. */
const ALLOWED: Record<string, readonly string[]> = {
  mesh: [],
  solid: ['mesh'],
  formats: ['mesh'],
  repair: ['mesh', 'formats'],
  cut: ['mesh'],
  joints: ['mesh', 'cut'],
  skin: ['mesh'],
  recipe: ['mesh', 'formats', 'repair', 'cut', 'skin', 'solid'],
  plan: ['mesh', 'cut', 'joints', 'repair', 'formats', 'recipe', 'solid'],
  seek: ['mesh', 'cut', 'plan'],
  seat: ['mesh', 'cut', 'joints', 'plan'],
  trial: ['mesh', 'cut', 'joints', 'plan'],
};

const files = Object.keys(ALLOWED).flatMap((folder) =>
  readdirSync(join(here, folder))
    .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts') && !f.endsWith('.d.ts'))
    .map((f) => ({ folder, name: `${folder}/${f}`, text: readFileSync(join(here, folder, f), 'utf8') })),
);

const importsOf = (text: string): string[] => [...text.matchAll(/from '([^']+)'/g)].map((m) => m[1]);

describe('the layers of the core', () => {
  it('point one way, and only through each other’s index', () => {
    const wrong = files.flatMap(({ folder, name, text }) =>
      importsOf(text)
        .filter((path) => path.startsWith('../') && path !== '../errors.ts')
        .filter((path) => {
          const [, target, rest] = path.split('/');
          return !ALLOWED[folder].includes(target) || rest !== 'index.ts';
        })
        .map((path) => `${name} imports ${path}`),
    );
    expect(wrong).toEqual([]);
  });

  it('use neither Node nor the page', () => {
    const wrong = files.filter(({ text }) => /from 'node:|\b(document|window|process|localStorage)\.[a-z]/.test(text));
    expect(wrong.map((f) => f.name)).toEqual([]);
  });
});
