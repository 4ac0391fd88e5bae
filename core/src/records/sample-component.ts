import { COMPONENT_VERSION, type ComponentRecord } from './schemas.ts';

/** A valid record with nothing marked, for tests: one body, and whatever `part` says. */
export function sampleComponent(id: string, part: Partial<ComponentRecord> = {}): ComponentRecord {
  const hash = 'a'.repeat(64);
  return {
    kind: 'component',
    version: COMPONENT_VERSION,
    id,
    name: id,
    componentKind: 'other',
    source: { blob: hash, fileName: `${id}.step`, format: 'step', unit: 'mm', unitScale: 1, foundScale: 1, bytes: 10 },
    model: { blob: hash, faces: 6, triangles: 12 },
    bodies: [{ id: 'b1', name: 'b', role: 'tool body', hidden: false }],
    cuts: [],
    faceColours: [],
    designation: '',
    pose: [],
    mount: null,
    seats: [],
    tips: [],
    geometry: [],
    createdAt: '2026-01-01',
    changedAt: '2026-01-01',
    ...part,
  };
}
