// How other systems write a model: closed faces in patches, everything a spline, in inches, loose faces, one face gone, names in other alphabets.
import { exportSTEP, makeCompound, type Shape3D } from 'replicad';
import { asSplines } from '../as-splines.ts';
import type { Random } from '../random.ts';
import { patched, type Point } from './solids.ts';

export const WRITTEN = ['plain', 'patches', 'splines', 'splines and patches', 'loose faces', 'a face gone'] as const;
export type Written = (typeof WRITTEN)[number] | 'slivers';

const NAMES: readonly (readonly string[])[] = [
  ['Solid1', 'Solid2', 'Solid3', 'Solid4'],
  ['Grundkörper', 'Schneidplatte', 'Schraube', 'Unterlage'],
  ['本体', 'チップ', 'ネジ', '敷金'],
  ['Корпус', 'Пластина', 'Винт', 'Подкладка'],
  ['', '', '', ''],
  ['PRT0001', 'PRT0001', 'PRT0001', 'PRT0001'],
];

/** A body's shape in another way of writing it. */
export function rewritten(shape: Shape3D, how: Written, r: Random): Shape3D {
  if (how === 'patches' || how === 'splines and patches') {
    const tilt = r.between(0, Math.PI / 2);
    const first: Point = [Math.cos(tilt), Math.sin(tilt), 0];
    const normals: Point[] = r.chance(0.5) ? [first] : [first, [-Math.sin(tilt), Math.cos(tilt), 0]];
    return patched(shape, [0, 0, 0], normals);
  }
  if (how === 'slivers') {
    // Two cuts so near to each other that the faces between them are splinters.
    const b = shape.boundingBox.center;
    const tilt = r.between(0, Math.PI / 2);
    const normal: Point = r.chance(0.5) ? [Math.cos(tilt), Math.sin(tilt), 0] : [0, Math.cos(tilt) * 0.2, 1];
    const thin = r.pick([0.004, 0.01, 0.03]);
    const at = [0, thin].map((d): Point => [b[0] + d * normal[0], b[1] + d * normal[1], b[2] + d * normal[2]]);
    return at.reduce((s, p) => patched(s, p, [normal]), shape);
  }
  if (how === 'a face gone') {
    // The smallest face of the largest body is missing in the file.
    const faces = [...shape.faces].sort((a, b) => areaOf(a) - areaOf(b));
    if (faces.length > 12) return makeCompound(faces.slice(1)) as unknown as Shape3D;
  }
  // Each by itself: no face knows its neighbours' edges.
  if (how === 'loose faces') return makeCompound(shape.faces.map((f) => f.clone().translate([0, 0, 0]))) as unknown as Shape3D;
  return shape;
}
function areaOf(face: { boundingBox: { width: number; height: number; depth: number } }): number {
  const { width, height, depth } = face.boundingBox;
  return Math.max(width * height, height * depth, width * depth);
}

/** The text of a STEP file with bodies by name. */
export async function stepText(bodies: readonly { shape: Shape3D; name: string }[], how: Written, inch: boolean): Promise<string> {
  const marked = bodies.map((b, i) => ({ shape: b.shape, name: `BODY_${i}_`, color: ['#8a8f96', '#c9a227', '#4f5358'][i % 3] }));
  let text = await exportSTEP(marked, { unit: inch ? 'INCH' : 'MM', modelUnit: 'MM' }).text();
  text = text.replace(/FILE_NAME\([^;]*;/, "FILE_NAME('','2026-05-02T08:00:00',(''),(''),'','','');");
  bodies.forEach((b, i) => {
    text = text.replaceAll(`BODY_${i}_`, part21(b.name));
  });
  if (how === 'splines' || how === 'splines and patches') text = asSplines(text).text;
  return text;
}
// Characters beyond ASCII as ISO 10303-21 has them.
export const part21 = (name: string): string =>
  name
    .replace(/[^\x20-\x7e]+/g, (s) => `\\X2\\${[...s].map((c) => (c.codePointAt(0) ?? 63).toString(16).toUpperCase().padStart(4, '0')).join('')}\\X0\\`)
    .replaceAll("'", "''");

export const namesFor = (r: Random, many: number): string[] => {
  const list = r.pick(NAMES);
  return Array.from({ length: many }, (_, i) => list[Math.min(i, list.length - 1)]);
};
