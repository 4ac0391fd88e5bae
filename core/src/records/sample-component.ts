import { newComponent } from './component.ts';
import type { ComponentRecord } from './component-record.ts';

/** A valid record with nothing marked, for tests: one body, and whatever `part` says. */
export function sampleComponent(id: string, part: Partial<ComponentRecord> = {}): ComponentRecord {
  const hash = 'a'.repeat(64);
  const source: ComponentRecord['source'] = {
    kind: 'file',
    blob: hash,
    fileName: `${id}.step`,
    format: 'step',
    unit: 'mm',
    unitScale: 1,
    foundScale: 1,
    bytes: 10,
  };
  const made = { faces: 6, triangles: 12, bodies: [{ id: 'b1', name: 'b' }] };
  return { ...newComponent({ id, name: id, source, modelBlob: hash, now: '2026-01-01' }, made), ...part };
}
