import { XMLParser } from 'fast-xml-parser';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { done, failed, type Result } from '#core/issues';
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

// 3MF core specification, "Unit": mm per unit.
const UNITS: Record<string, number> = { micron: 0.001, millimeter: 1, centimeter: 10, inch: 25.4, foot: 304.8, meter: 1000 };
/** Bytes. What a 3MF may unpack to. */
const LARGEST_UNPACKED = 600e6;

type Xml = Record<string, unknown>;
const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');
const listOf = (node: unknown): Xml[] => (Array.isArray(node) ? (node as Xml[]) : node === undefined || node === '' ? [] : [node as Xml]);
// A matrix of the specification: twelve numbers, row vectors times it.
type Matrix = readonly number[];
const IDENTITY_12: Matrix = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];
const matrixOf = (text: unknown): Matrix => {
  const m = typeof text === 'string' ? text.trim().split(/\s+/).map(Number) : [];
  return m.length === 12 && m.every(Number.isFinite) ? m : IDENTITY_12;
};
const times = (a: Matrix, b: Matrix): Matrix =>
  [0, 1, 2, 3].flatMap((r) => [0, 1, 2].map((c) => a[3 * r] * b[c] + a[3 * r + 1] * b[3 + c] + a[3 * r + 2] * b[6 + c] + (r === 3 ? b[9 + c] : 0)));

/** Reads the objects of a 3MF file where its build places them, in the file's unit. */
export function readThreeMf(
  bytes: Uint8Array,
  file: string,
): Result<{ unit: string; unitScale: number; objects: { name: string; mesh: NamedMesh['mesh'] }[] }> {
  const bad = (text: string) => failed('mesh.broken', { file, text });
  let xml: string;
  try {
    let unpacked = 0;
    const files = unzipSync(bytes, {
      filter: (f) => {
        unpacked += f.originalSize;
        return /\.model$/i.test(f.name) && unpacked < LARGEST_UNPACKED;
      },
    });
    const name = Object.keys(files).find((n) => /3dmodel\.model$/i.test(n)) ?? Object.keys(files)[0];
    if (!name) return bad('it has no 3D model inside');
    xml = strFromU8(files[name]);
  } catch (error) {
    return bad(`it is not a zip file that can be opened (${error instanceof Error ? error.message : String(error)})`);
  }
  let model: Xml;
  try {
    const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', parseTagValue: false, parseAttributeValue: false, removeNSPrefix: true });
    model = (parser.parse(xml) as { model?: Xml }).model as Xml;
  } catch (error) {
    return bad(`its model is not XML (${error instanceof Error ? error.message : String(error)})`);
  }
  if (!model) return bad('its model part is empty');
  const unit = textOf(model['@unit']) || 'millimeter';
  const byId = new Map(listOf((model.resources as Xml)?.object).map((o) => [String(o['@id']), o]));
  const objects: { name: string; mesh: NamedMesh['mesh'] }[] = [];
  const place = (id: string, matrix: Matrix, depth: number): string | undefined => {
    const object = byId.get(id);
    if (!object) return `object ${id} is not in it`;
    if (depth > 20) return `object ${id} contains itself`;
    for (const c of listOf((object.components as Xml)?.component)) {
      const fault = place(String(c['@objectid']), times(matrixOf(c['@transform']), matrix), depth + 1);
      if (fault) return fault;
    }
    const mesh = object.mesh as Xml | undefined;
    if (!mesh) return undefined;
    const vertices = listOf((mesh.vertices as Xml)?.vertex);
    const faces = listOf((mesh.triangles as Xml)?.triangle);
    const positions = new Float64Array(3 * vertices.length);
    vertices.forEach((v, i) => {
      const [x, y, z] = [Number(v['@x']), Number(v['@y']), Number(v['@z'])];
      for (let k = 0; k < 3; k++) positions[3 * i + k] = x * matrix[k] + y * matrix[3 + k] + z * matrix[6 + k] + matrix[9 + k];
    });
    const triangles = Uint32Array.from(faces.flatMap((f) => [Number(f['@v1']), Number(f['@v2']), Number(f['@v3'])]));
    if (!positions.every(Number.isFinite)) return `object ${id} has corners that are not numbers`;
    if (triangles.some((v) => v >= vertices.length)) return `object ${id} has a triangle with a corner that is not there`;
    objects.push({ name: textOf(object['@name']), mesh: { positions, triangles } });
    return undefined;
  };
  const items = listOf((model.build as Xml)?.item);
  for (const item of items.length > 0 ? items : [...byId.keys()].map((id): Xml => ({ '@objectid': id }))) {
    const fault = place(String(item['@objectid']), matrixOf(item['@transform']), 0);
    if (fault) return bad(fault);
  }
  return done({ unit: unit === 'millimeter' ? 'mm' : unit, unitScale: UNITS[unit] ?? 1, objects });
}
