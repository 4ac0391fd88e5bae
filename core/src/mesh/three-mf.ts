import { strToU8, zipSync } from 'fflate';
import type { NamedMesh } from './glb.ts';

const escapeXml = (text: string) => text.replace(/[<>&"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** Meshes as a 3MF file (3MF core specification) in mm, one object each. */
export function writeThreeMf(meshes: readonly NamedMesh[]): Uint8Array {
  const objects = meshes.map(({ name, mesh: { positions: p, triangles: t } }, i) => {
    const vertices: string[] = [];
    for (let k = 0; k < p.length; k += 3) vertices.push(`<vertex x="${p[k]}" y="${p[k + 1]}" z="${p[k + 2]}"/>`);
    const faces: string[] = [];
    for (let k = 0; k < t.length; k += 3) faces.push(`<triangle v1="${t[k]}" v2="${t[k + 1]}" v3="${t[k + 2]}"/>`);
    return `<object id="${i + 1}" type="model" name="${escapeXml(name)}"><mesh><vertices>${vertices.join('')}</vertices><triangles>${faces.join('')}</triangles></mesh></object>`;
  });
  const model = `<?xml version="1.0" encoding="UTF-8"?>
<model unit="millimeter" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources>${objects.join('')}</resources><build>${meshes.map((_, i) => `<item objectid="${i + 1}"/>`).join('')}</build></model>`;
  return zipSync({
    '[Content_Types].xml': strToU8(
      '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>',
    ),
    '_rels/.rels': strToU8(
      '<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
    ),
    '3D/3dmodel.model': strToU8(model),
  });
}
