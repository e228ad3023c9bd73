import { strToU8, zipSync } from 'fflate';
import type { IndexedMesh } from '../mesh/index.ts';
import { shortest } from './stl.ts';

/** A named solid of a 3MF file, in millimetres, in its place. */
export interface NamedMesh {
  readonly name: string;
  readonly mesh: Pick<IndexedMesh, 'positions' | 'triangles'>;
}

const TYPES =
  '<?xml version="1.0" encoding="UTF-8"?>\n<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">' +
  '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>' +
  '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>';

const RELATIONS =
  '<?xml version="1.0" encoding="UTF-8"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">' +
  '<Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/>' +
  '</Relationships>';

/**
 * Writes a 3MF package (3MF Core Specification 1.3): one object a solid, each a build item at its own coordinates.
 */
export function writeThreeMf(solids: readonly NamedMesh[], title: string): Uint8Array {
  const chunks: string[] = [
    '<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xml:lang="en" ' +
      'xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">\n' +
      `<metadata name="Title">${escapeXml(title)}</metadata>\n<resources>\n`,
  ];
  solids.forEach(({ name, mesh }, i) => {
    const { positions: p, triangles: t } = mesh;
    chunks.push(`<object id="${i + 1}" type="model" name="${escapeXml(name)}"><mesh><vertices>\n`);
    for (let k = 0; k < p.length; k += 3) {
      chunks.push(`<vertex x="${shortest(p[k])}" y="${shortest(p[k + 1])}" z="${shortest(p[k + 2])}"/>\n`);
    }
    chunks.push('</vertices><triangles>\n');
    for (let k = 0; k < t.length; k += 3) {
      chunks.push(`<triangle v1="${t[k]}" v2="${t[k + 1]}" v3="${t[k + 2]}"/>\n`);
    }
    chunks.push('</triangles></mesh></object>\n');
  });
  chunks.push('</resources>\n<build>\n');
  solids.forEach((_, i) => {
    chunks.push(`<item objectid="${i + 1}"/>\n`);
  });
  chunks.push('</build>\n</model>\n');
  return zipSync(
    {
      '[Content_Types].xml': strToU8(TYPES),
      '_rels/.rels': strToU8(RELATIONS),
      '3D/3dmodel.model': encodeChunks(chunks),
    },
    { level: 4 },
  );
}

/** Encodes many small strings without ever holding them as one (a string has a length limit). */
function encodeChunks(chunks: readonly string[]): Uint8Array {
  const pieces: Uint8Array[] = [];
  for (let i = 0; i < chunks.length; i += 20_000) pieces.push(strToU8(chunks.slice(i, i + 20_000).join('')));
  const out = new Uint8Array(pieces.reduce((n, x) => n + x.length, 0));
  let at = 0;
  for (const x of pieces) {
    out.set(x, at);
    at += x.length;
  }
  return out;
}

/** Text as XML may hold it: marked-up characters escaped, control characters dropped. */
function escapeXml(text: string): string {
  return [...text]
    .filter((c) => c >= ' ' && c !== '\u007f' && c !== '\ufffe' && c !== '\uffff')
    .join('')
    .replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
