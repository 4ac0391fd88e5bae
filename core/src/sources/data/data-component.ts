import type { ComponentSpec, MadePart, PlacedConnection } from '#core/components';
import { AS_USUAL, type ToolUse } from '#core/cutting';
import { addScaled } from '#core/math';
import { shapeBodies, type SolidShape } from '#core/outline';
import {
  type ComponentRecord,
  type Connection,
  cornerTowards,
  type FactOrigin,
  hashPlain,
  type ModelSummary,
  mountFrameOf,
  newComponent,
  type Tip,
} from '#core/records';
import { type NewMake, sourceOfShape } from '../drawn/index.ts';

/** What a component of data is made of: its source with its shape, and the marks that come with it. */
export const makeOfSpec = (spec: ComponentSpec, part: MadePart): NewMake => ({
  source: { kind: 'data', spec, values: part.values, ...sourceOfShape(part.name.replace(/[\\/:]/g, '-'), part.shape) },
  marks: marksOf(part),
});

/** What is known of the model of a shape before it is made. */
export const summaryOfShape = (shape: SolidShape): ModelSummary => ({
  faces: 0,
  triangles: 0,
  bodies: shapeBodies(shape).map(({ name }, i) => ({ id: `b${i + 1}`, name })),
});

/** Under which hash the model of data is kept once somebody looks at it: of what it is made from, so that a record costs no geometry. */
export const modelKeyOf = ({ blob }: Pick<ComponentRecord['source'], 'blob'>): string => hashPlain({ modelOf: blob });

/** A new component of data; its model is made when it is looked at. */
export function componentOfSpec(spec: ComponentSpec, part: MadePart, given: { id: string; name: string; now: string; use?: ToolUse }): ComponentRecord {
  const { source, marks } = makeOfSpec(spec, part);
  const record = newComponent({ ...given, source, modelBlob: modelKeyOf(source) }, summaryOfShape(part.shape));
  const roles = shapeBodies(part.shape);
  return {
    ...record,
    componentKind: part.role,
    designation: spec.designation,
    bodies: record.bodies.map((b, i) => ({ ...b, role: roles[i].role })),
    use: given.use ?? AS_USUAL,
    ...marks,
  };
}

const fromData = (evidence: string): FactOrigin => ({ from: 'data', evidence });

function marksOf({ mount, seats, tips }: MadePart): NewMake['marks'] {
  const connection = (id: string, name: string, { frame, connection: of, evidence }: PlacedConnection): Connection => ({
    id,
    name,
    frame,
    connection: of,
    origin: fromData(evidence),
  });
  const held = mount && connection('data-mount', 'Mount', mount);
  const frame = mountFrameOf({ mount: held });
  return {
    mount: held,
    seats: seats.map((s, i) => connection(`data-seat-${i}`, seats.length > 1 ? `Seat ${i + 1}` : 'Seat', s)),
    tips: tips.map(
      (t, i): Tip => ({
        id: `data-tip-${i}`,
        name: tips.length > 1 ? `Tip ${i + 1}` : 'Tip',
        noseRadius: t.noseRadius,
        noseCentre: t.noseCentre,
        // What ends on its axis points along it.
        corner: t.towards ? cornerTowards(t.towards, frame) : cornerTowards(addScaled([0, 0, 0], frame.z, 1), frame),
        ...(t.towards ? { towards: t.towards } : {}),
        ...(t.rake ? { rake: t.rake } : {}),
        programmedPoint: 'virtual tip',
        origin: fromData(t.evidence),
      }),
    ),
  };
}
