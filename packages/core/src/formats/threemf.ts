import { encodeText } from './obj.ts';
import type { RawModel } from './raw.ts';
import { decimal } from './text.ts';
import { type Deflate, packZip } from './zip-write.ts';

const TYPES =
  '<?xml version="1.0" encoding="UTF-8"?>\n<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">' +
  '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>' +
  '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>';

const RELATIONS =
  '<?xml version="1.0" encoding="UTF-8"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">' +
  '<Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/>' +
  '</Relationships>';

/**
 * Writes a 3MF package (3MF Core Specification 1.3): one object a part, in millimetres, built once at its own coordinates or
 * wherever its items say; the palette as base materials.
 */
export function writeThreeMf(model: Pick<RawModel, 'parts' | 'palette'>, title: string, deflate?: Deflate): Uint8Array {
  const { parts, palette } = model;
  const painted = palette.length > 1;
  const firstId = painted ? 2 : 1;
  const chunks: string[] = [
    '<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xml:lang="en" ' +
      'xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">\n' +
      `<metadata name="Title">${escapeXml(title)}</metadata>\n<resources>\n`,
  ];
  if (painted) {
    chunks.push('<basematerials id="1">\n');
    for (const { name, colour } of palette.slice(1)) {
      chunks.push(`<base name="${escapeXml(name)}" displaycolor="${(colour || '#c0c0c0').toUpperCase()}"/>\n`);
    }
    chunks.push('</basematerials>\n');
  }
  parts.forEach(({ name, positions: p, triangles: t, paint }, i) => {
    chunks.push(`<object id="${i + firstId}" type="model" name="${escapeXml(name)}"><mesh><vertices>\n`);
    for (let k = 0; k < p.length; k += 3) {
      chunks.push(`<vertex x="${decimal(p[k])}" y="${decimal(p[k + 1])}" z="${decimal(p[k + 2])}"/>\n`);
    }
    chunks.push('</vertices><triangles>\n');
    const count = t ? t.length : p.length / 3;
    for (let k = 0; k < count; k += 3) {
      const v = (c: number): number => (t ? t[k + c] : k + c);
      const own = painted ? (paint?.[k / 3] ?? 0) : 0;
      const colour = own > 0 ? ` pid="1" p1="${own - 1}"` : '';
      chunks.push(`<triangle v1="${v(0)}" v2="${v(1)}" v3="${v(2)}"${colour}/>\n`);
    }
    chunks.push('</triangles></mesh></object>\n');
  });
  chunks.push('</resources>\n<build>\n');
  parts.forEach(({ items = [null] }, i) => {
    for (const item of items) {
      // the format multiplies rows: its matrix is the other way round
      const m = item && [0, 1, 2, 3].flatMap((c) => [0, 1, 2].map((r) => decimal(item[4 * r + c])));
      chunks.push(`<item objectid="${i + firstId}"${m ? ` transform="${m.join(' ')}"` : ''}/>\n`);
    }
  });
  chunks.push('</build>\n</model>\n');
  const text = (t: string): Uint8Array => new TextEncoder().encode(t);
  return packZip(
    [
      { name: '[Content_Types].xml', bytes: text(TYPES) },
      { name: '_rels/.rels', bytes: text(RELATIONS) },
      { name: '3D/3dmodel.model', bytes: encodeText(chunks) },
    ],
    deflate,
  );
}

/** Text as XML may hold it: marked-up characters escaped, control characters dropped. */
function escapeXml(text: string): string {
  return [...text]
    .filter((c) => c >= ' ' && c !== '\u007f' && c !== '\ufffe' && c !== '\uffff')
    .join('')
    .replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
