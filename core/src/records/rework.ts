import { scale, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import type { BodyEntry, ComponentRecord, Connection, CutRecord, PoseStep, Tip } from './schemas.ts';

/** A record whose unit is another one: every length that was marked grows with the model, so that marks stay on their faces. */
export function withUnitScale(record: ComponentRecord, unitScale: number): ComponentRecord {
  const f = unitScale / record.source.unitScale;
  const point = (p: Vec3): Vec3 => scale(p, f);
  const connection = (c: Connection): Connection => ({ ...c, frame: { ...c.frame, origin: point(c.frame.origin) } });
  const tip = (t: Tip): Tip => ({ ...t, noseRadius: t.noseRadius * f, noseCentre: point(t.noseCentre) });
  const step = (s: PoseStep): PoseStep => (s.kind === 'move' ? { ...s, by: point(s.by) } : { ...s, point: point(s.point) });
  const cut = (c: CutRecord): CutRecord => ({
    ...c,
    frame: { ...c.frame, origin: point(c.frame.origin) },
    outline: c.outline.map(([x, y]): [number, number] => [x * f, y * f]),
    from: c.from * f,
    to: c.to * f,
  });
  return {
    ...record,
    source: { ...record.source, unitScale },
    mount: record.mount && connection(record.mount),
    seats: record.seats.map(connection),
    tips: record.tips.map(tip),
    pose: record.pose.map(step),
    cuts: record.cuts.map(cut),
  };
}

/** A record whose file was opened anew: its bodies are those of the model; what was said of a body stays, a new one that was cut off cuts. */
export function withModel(record: ComponentRecord, model: Model, modelBlob: string): ComponentRecord {
  const vendorCount = model.bodies.length - record.cuts.length;
  return {
    ...record,
    model: {
      blob: modelBlob,
      faces: model.bodies.reduce((n, b) => n + b.faces.length, 0),
      triangles: model.bodies.reduce((n, b) => n + b.mesh.triangles.length / 3, 0),
    },
    bodies: model.bodies.map((b, i): BodyEntry => {
      const known = record.bodies.find((e) => e.id === b.id);
      return known ?? { id: b.id, name: b.name, colour: b.colour, role: i >= vendorCount ? 'cutting' : 'tool body', hidden: false };
    }),
    // Numbers of faces belong to the model that was.
    faceColours: [],
  };
}
