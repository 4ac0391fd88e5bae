import { type SolidShape, shapeBodies, shapeFileName, writeSolidShape } from '#core/outline';
import {
  type BodyEntry,
  type ComponentRecord,
  type ComponentSource,
  hashBytes,
  hashPlain,
  type ModelSummary,
  newComponent,
  type OutlineRecord,
  withMount,
} from '#core/records';
import { isDrawnMark, type OutlineMarks, outlineMarks } from './outline-marks.ts';

/** The source of a component that is made of an outline. */
export const sourceOfOutline = (outline: Pick<OutlineRecord, 'id' | 'name'>, shape: SolidShape): Extract<ComponentSource, { kind: 'outline' }> => ({
  kind: 'outline',
  outline: outline.id,
  ...sourceOfShape(outline.name, shape),
});

/** What all sources that are shapes have. */
export function sourceOfShape(name: string, shape: SolidShape) {
  const bytes = writeSolidShape(shape);
  return {
    shape,
    blob: hashBytes(bytes),
    bytes: bytes.length,
    fileName: shapeFileName(name.slice(0, 180)),
    format: 'outline' as const,
    unit: 'mm' as const,
    unitScale: 1,
    foundScale: 1,
  };
}

const KINDS = { cutter: 'cutter', holder: 'holder', insert: 'insert' } as const;

/** A new component of an outline; `made` is the model of its shape. */
export function componentOfOutline(
  outline: OutlineRecord,
  shape: SolidShape,
  given: { id: string; now: string; modelBlob: string },
  made: ModelSummary,
): ComponentRecord {
  const record = newComponent({ ...given, name: outline.name, source: sourceOfOutline(outline, shape) }, made);
  const roles = shapeBodies(shape);
  return {
    ...record,
    componentKind: KINDS[outline.purpose],
    bodies: record.bodies.map((b, i) => ({ ...b, role: roles[i].role })),
    ...outlineMarks(outline),
  };
}

/** What a component is made of anew: its source with its shape, and the marks that come with it. */
export interface NewMake {
  readonly source: Exclude<ComponentSource, { kind: 'file' }>;
  readonly marks: OutlineMarks;
}

/** A component whose outline has changed: see `remake`. */
export const followOutline = (
  record: ComponentRecord,
  outline: OutlineRecord,
  shape: SolidShape,
  modelBlob: string,
  made: ModelSummary,
): { record: ComponentRecord; lost: string[] } => remake(record, { source: sourceOfOutline(outline, shape), marks: outlineMarks(outline) }, modelBlob, made);

/**
 * A component that is made anew of what it comes from: its source, bodies and the marks that came with it are the new ones; what was marked or said by hand
 * stays. `lost`: what no longer fits, in words.
 */
export function remake(record: ComponentRecord, make: NewMake, modelBlob: string, made: ModelSummary): { record: ComponentRecord; lost: string[] } {
  const { shape } = make.source;
  const roles = shapeBodies(shape);
  const lost: string[] = [];
  const before = record.source.kind === 'file' ? [] : shapeBodies(record.source.shape);
  const known = new Set(made.bodies.map((b) => b.id));
  // A body keeps what was said of it where it is still the same part of the outline.
  const isSame = (i: number) => before[i]?.name === roles[i]?.name;
  const bodies = made.bodies.map((b, i): BodyEntry => {
    const entry = isSame(i) ? record.bodies.find((e) => e.id === b.id) : undefined;
    if (!entry || i >= roles.length) return entry ?? { ...b, role: roles[i]?.role ?? 'cutting', hidden: false };
    return { ...entry, name: b.name, role: entry.role === before[i].role ? roles[i].role : entry.role };
  });
  const marks = followedMarks(record, make.marks);
  const gone = record.seats.filter((s) => isDrawnMark(s) && !marks.seats.some((m) => m.id === s.id));
  if (gone.length > 0) lost.push(`${gone.map((s) => s.name).join(', ')}: there is no such seat any more`);
  const cuts = record.cuts.filter((c) => known.has(c.body));
  if (cuts.length < record.cuts.length) lost.push(`${record.cuts.length - cuts.length} cuts of bodies that are gone`);
  const faceColours = record.faceColours.filter((c) => {
    const i = Number(c.body.slice(1)) - 1;
    return JSON.stringify(shapeOf(record)?.[i]) === JSON.stringify(partsOf(shape)[i]);
  });
  if (faceColours.length < record.faceColours.length) lost.push('colours of faces that have changed');
  return {
    record: {
      ...record,
      source: make.source,
      model: { blob: modelBlob, faces: made.faces, triangles: made.triangles },
      bodies,
      cuts,
      faceColours,
      ...marks,
    },
    lost,
  };
}

const shapeOf = ({ source }: ComponentRecord) => (source.kind === 'file' ? undefined : partsOf(source.shape));

// What each body is made of.
const partsOf = (shape: SolidShape): readonly unknown[] =>
  shape.form === 'revolved' ? shape.bodies.flatMap((b) => b.profile) : shape.form === 'placed' ? shape.bodies : [shape];

/** Whether a component is what its outline makes now. */
export const isUpToDate = (record: ComponentRecord, outline: OutlineRecord, shape: SolidShape): boolean =>
  record.source.blob === hashBytes(writeSolidShape(shape)) &&
  hashPlain(followedMarks(record, outlineMarks(outline))) === hashPlain({ seats: record.seats, mount: record.mount, tips: record.tips });

// Marks that came with its shape as that has them now, and those that were made by hand as they are.
function followedMarks(record: ComponentRecord, { mount, seats, tips }: OutlineMarks): OutlineMarks {
  const own = record.mount && !isDrawnMark(record.mount) ? record.mount : mount;
  const byHand = <T extends Parameters<typeof isDrawnMark>[0]>(marks: readonly T[]) => marks.filter((m) => !isDrawnMark(m));
  return { seats: [...seats, ...byHand(record.seats)], ...withMount({ mount: record.mount, tips: [...tips, ...byHand(record.tips)] }, own) };
}
