// Some systems write every plane and every cylinder as a spline. The kernel takes much longer over splines, and leaves their triangles many times as many and further off.
import { addScaled, dot, scale, subtract, type Vec3 } from '#core/math';
import { argumentSpans, argumentsOfPart, bodyTextOf, type Part21Entity, type Part21File, referencesIn, type TextEdit } from './part21.ts';
import { type PlainSurface, splineAsPlain } from './spline-as-plain.ts';
import { readSpline, splineEntities } from './step-splines.ts';
import { cornersOf } from './step-faces.ts';
import { angleUnit, type EntitiesByType } from './step-parts.ts';

const FACES = ['ADVANCED_FACE', 'FACE_SURFACE'];
// What is made of a surface and its coordinates.
const MADE_OF_SURFACES = ['RECTANGULAR_TRIMMED_SURFACE', 'CURVE_BOUNDED_SURFACE', 'OFFSET_SURFACE', 'SURFACE_PATCH', 'DEGENERATE_PCURVE', 'POINT_ON_SURFACE'];
const CURVES_ON_SURFACES = ['SURFACE_CURVE', 'SEAM_CURVE', 'INTERSECTION_CURVE'];

/** The splines of a STEP file that are written as plain surfaces for the kernel. */
export class PlainSurfaces {
  private readonly file: Part21File;
  private readonly byType: EntitiesByType;
  private readonly scaleToMm: number;
  private readonly radPerUnit: number | undefined;
  private readonly facesOn: ReadonlyMap<number, readonly number[]> = new Map();
  /** By entity, what splines are. */
  private readonly plain = new Map<number, PlainSurface>();

  /** `scaleToMm`: mm per unit of the file. */
  constructor(file: Part21File, byType: EntitiesByType, scaleToMm: number) {
    this.file = file;
    this.byType = byType;
    this.scaleToMm = scaleToMm;
    const splines = splineEntities(file, byType);
    if (splines.length === 0) return;
    this.radPerUnit = angleUnit(file, byType);
    this.facesOn = facesBySurface(file, byType);
    const kept = new Set(MADE_OF_SURFACES.flatMap((type) => byType.get(type) ?? []).flatMap((id) => referencesIn(bodyTextOf(file, id))));
    for (const id of splines) {
      if (kept.has(id)) continue;
      const spline = readSpline(file, id, scaleToMm);
      const surface = spline && splineAsPlain(spline);
      if (!surface) continue;
      if (surface.kind !== 'cone') this.plain.set(id, surface);
      else if (this.radPerUnit !== undefined) this.plain.set(id, nearFace(surface, cornersOf(file, this.facesOn.get(id) ?? []), scaleToMm));
    }
  }

  /** Their entities. */
  ids(): ReadonlySet<number> {
    return new Set(this.plain.keys());
  }

  /** The surface that a face of the text is on, where that is one of them. */
  surfaceOf(face: number): number | undefined {
    const surface = Number(argumentSpans(this.file, face)[2]?.text.slice(1));
    return this.plain.has(surface) ? surface : undefined;
  }

  /**
   * What to change in the text so that they are plain, all but some. Edges lose what they are in the coordinates of such a surface: the kernel finds that anew, as in
   * files that do not have it.
   */
  edits(without: ReadonlySet<number>): TextEdit[] {
    const { file, byType } = this;
    const plain = new Map([...this.plain].filter(([id]) => !without.has(id)));
    if (plain.size === 0) return [];
    let next = [...file.entities.keys()].reduce((a, b) => Math.max(a, b), 0) + 1;
    const edits = [...plain].map(([id, surface]): TextEdit => {
      const text = surfaceText(surface, next, this.scaleToMm, this.radPerUnit ?? 1);
      next += ENTITIES_A_SURFACE;
      return { ...wholeOf(file, id), text };
    });
    return [...edits, ...turnedFaces(file, this.facesOn, plain), ...edgesInSpace(file, byType, plain)];
  }
}

// Its placement, and what that refers to.
const ENTITIES_A_SURFACE = 4;

// An instance from behind the equals sign to the semicolon.
function wholeOf(file: Part21File, id: number): { readonly from: number; readonly to: number } {
  const { type, start, end } = file.entities.get(id) as Part21Entity;
  return { from: type === '' ? start : file.text.lastIndexOf(type, start), to: end };
}

// The surface in place of the spline, and what it refers to behind it.
function surfaceText(s: PlainSurface, next: number, scaleToMm: number, radPerUnit: number): string {
  const [placement, point, z, x] = [next, next + 1, next + 2, next + 3];
  const numbers = s.numbers.map((n, i) => real(s.kind === 'cone' && i === 1 ? n / radPerUnit : n / scaleToMm));
  const type = { plane: 'PLANE', cylinder: 'CYLINDRICAL_SURFACE', cone: 'CONICAL_SURFACE', sphere: 'SPHERICAL_SURFACE', torus: 'TOROIDAL_SURFACE' }[s.kind];
  const below = [
    `#${placement}=AXIS2_PLACEMENT_3D('',#${point},#${z},#${x})`,
    `#${point}=CARTESIAN_POINT('',${list(scale(s.origin, 1 / scaleToMm))})`,
    `#${z}=DIRECTION('',${list(s.z)})`,
    `#${x}=DIRECTION('',${list(s.x)})`,
  ];
  return [`${type}('',${[`#${placement}`, ...numbers].join(',')})`, ...below].join(';\n');
}

const real = (n: number): string => {
  const text = String(n).toUpperCase();
  return /[.]/.test(text) ? text : text.includes('E') ? text.replace('E', '.E') : `${text}.`;
};
const list = (v: Vec3): string => `(${v.map(real).join(',')})`;

function facesBySurface(file: Part21File, byType: EntitiesByType): Map<number, number[]> {
  const out = new Map<number, number[]>();
  for (const id of FACES.flatMap((type) => byType.get(type) ?? [])) {
    const surface = Number(argumentSpans(file, id)[2]?.text.slice(1));
    const faces = out.get(surface);
    if (faces) faces.push(id);
    else out.set(surface, [id]);
  }
  return out;
}

// A cone placed where its face is: the kernel takes its radius there for that of the face.
function nearFace(cone: PlainSurface, corners: readonly Vec3[], scaleToMm: number): PlainSurface {
  const [radius, halfAngleRad] = cone.numbers;
  const radiusAt = (along: number) => radius + along * Math.tan(halfAngleRad);
  const along = corners.reduce<number | undefined>((most, corner) => {
    const here = dot(subtract(scale(corner, scaleToMm), cone.origin), cone.z);
    return most === undefined || here > most ? here : most;
  }, undefined);
  if (along === undefined || !(radiusAt(along) > 1e-6)) return cone;
  return { ...cone, origin: addScaled(cone.origin, cone.z, along), numbers: [radiusAt(along), halfAngleRad] };
}

// The sense of faces whose surface looks the other way now.
function turnedFaces(file: Part21File, facesOn: ReadonlyMap<number, readonly number[]>, plain: ReadonlyMap<number, PlainSurface>): TextEdit[] {
  return [...plain].flatMap(([id, { isFlipped }]) =>
    (isFlipped ? (facesOn.get(id) ?? []) : []).flatMap((face) => {
      const sense = argumentSpans(file, face)[3];
      return sense ? [{ ...sense, text: sense.text === '.T.' ? '.F.' : '.T.' }] : [];
    }),
  );
}

// Edges on such surfaces by their curves in space alone.
function edgesInSpace(file: Part21File, byType: EntitiesByType, plain: ReadonlyMap<number, PlainSurface>): TextEdit[] {
  const basisOf = new Map((byType.get('PCURVE') ?? []).map((id) => [id, referencesIn(argumentSpans(file, id)[1]?.text ?? '')[0]]));
  const curves = new Map<number, number>();
  for (const { id, curve, on } of curvesOnSurfaces(file, byType)) if (on.some((c) => plain.has(c) || plain.has(basisOf.get(c) ?? -1))) curves.set(id, curve);
  return (byType.get('EDGE_CURVE') ?? []).flatMap((id) => {
    const geometry = argumentSpans(file, id)[3];
    const curve = geometry && curves.get(Number(geometry.text.slice(1)));
    return curve === undefined ? [] : [{ from: geometry.from, to: geometry.to, text: `#${curve}` }];
  });
}

// Curves with what they are on surfaces; a bounded one is a complex instance.
function curvesOnSurfaces(file: Part21File, byType: EntitiesByType): { readonly id: number; readonly curve: number; readonly on: readonly number[] }[] {
  const simple = CURVES_ON_SURFACES.flatMap((type) => byType.get(type) ?? []).map((id) => ({
    id,
    parts: argumentSpans(file, id)
      .map((a) => a.text)
      .slice(1),
  }));
  const complex = (byType.get('') ?? []).flatMap((id) => {
    const parts = CURVES_ON_SURFACES.map((name) => argumentsOfPart(file, id, name)).find(Boolean);
    return parts ? [{ id, parts }] : [];
  });
  return [...simple, ...complex].map(({ id, parts: [curve, on] }) => ({ id, curve: referencesIn(curve ?? '')[0], on: referencesIn(on ?? '') }));
}
