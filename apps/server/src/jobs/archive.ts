// A whole project as one zip: what was decided, the source it was decided on, and the files that beds were printed from.
import { type EndedPrint, endedPrint } from '@gephyra/contract';
import { cleanText, GephyraError, isZip, type Plan, parsePlan, safeName, unzipFiles, zipNames } from '@gephyra/core';
import { strToU8, zipSync } from 'fflate';
import { z } from 'zod';

const DOCUMENT = 'gephyra-project.json';

const documentSchema = z.object({
  gephyra: z.literal(1),
  name: z.string().trim().min(1).max(120),
  source: z.object({
    file: z.string().max(300),
    name: z.string().min(1).max(160),
    truncated: z.boolean().default(false),
  }),
  plan: z.unknown(),
  prints: z
    .array(z.strictObject({ file: z.string().max(300), print: endedPrint }))
    .max(2000)
    .default([]),
});

/** A project as it came out of a zip. */
export interface Archived {
  readonly name: string;
  readonly plan: Plan;
  readonly fileName: string;
  readonly truncated: boolean;
  readonly bytes: Uint8Array;
  readonly prints: readonly Printed[];
}

/** A bed that was printed, and what it was printed from. */
export interface Printed {
  readonly print: EndedPrint;
  readonly bytes: Uint8Array;
}

interface ToWrite {
  readonly projectName: string;
  readonly plan: unknown;
  readonly fileName: string;
  readonly allowTruncated: boolean;
}

/** Writes a project: its document (with a version), the source file under its own name, and what was printed. */
export function writeArchive(
  project: ToWrite,
  source: Uint8Array,
  printed: readonly Printed[],
): { bytes: Uint8Array; fileName: string } {
  const folder = safeName(project.projectName) || 'project';
  const ending = /\.[a-z0-9]{1,5}$/i.exec(project.fileName)?.[0].toLowerCase() ?? '';
  const file = `source/${safeName(project.fileName.replace(/\.[^.]*$/, '')) || 'model'}${ending}`;
  const document = {
    gephyra: 1,
    name: project.projectName,
    source: { file, name: project.fileName, truncated: project.allowTruncated },
    plan: project.plan,
    prints: printed.map(({ print }, i) => ({ file: printedFile(i), print })),
  };
  const files = Object.fromEntries(printed.map(({ bytes: own }, i) => [printedFile(i), own]));
  const bytes = zipSync(
    { [DOCUMENT]: strToU8(JSON.stringify(document, null, 2)), [file]: source, ...files },
    { level: 4 },
  );
  return { bytes, fileName: `${folder}.gephyra.zip` };
}

const printedFile = (i: number): string => `printed/${i + 1}.zip`;

/** Whether a file is a project. Throws what reading the archive's list throws. */
export const isArchive = (bytes: Uint8Array, name: string): boolean =>
  isZip(bytes) && zipNames(bytes, name).includes(DOCUMENT);

/** Reads a project. Throws GephyraError `project.archive` that says what is missing, `plan.invalid`, and the archive’s own. */
export function readArchive(bytes: Uint8Array, name: string): Archived {
  const fail = (what: string): GephyraError =>
    new GephyraError('project.archive', `${name} is a project, but ${what}. Export it again.`);
  const text = unzipFiles(bytes, name, (n) => n === DOCUMENT).get(DOCUMENT);
  let parsed: unknown;
  try {
    parsed = JSON.parse(new TextDecoder().decode(text), (_, value: unknown) =>
      typeof value === 'string' ? cleanText(value) : value,
    );
  } catch {
    throw fail('its document is no JSON');
  }
  const version = (parsed as { gephyra?: unknown } | null)?.gephyra;
  if (typeof version === 'number' && version > 1) {
    throw new GephyraError(
      'project.archive',
      `${name} comes from a newer Gephyra (version ${version}). Bring this one up to date.`,
    );
  }
  const checked = documentSchema.safeParse(parsed);
  if (!checked.success)
    throw fail(`what its document holds as ${checked.error.issues[0].path.join('.') || 'itself'} cannot be read`);
  const { name: title, source, plan, prints } = checked.data;
  const model = unzipFiles(bytes, name, (n) => n === source.file).get(source.file);
  if (!model) throw fail(`its source file “${source.file}” is missing`);
  const wanted = new Set(prints.map((p) => p.file));
  const files = wanted.size > 0 ? unzipFiles(bytes, name, (n) => wanted.has(n)) : new Map<string, Uint8Array>();
  return {
    name: title,
    plan: parsePlan(plan),
    fileName: source.name,
    truncated: source.truncated,
    bytes: model,
    prints: prints.map(({ file, print }) => {
      const own = files.get(file);
      if (!own) throw fail(`the file “${file}” that a bed was printed from is missing`);
      return { print, bytes: own };
    }),
  };
}
