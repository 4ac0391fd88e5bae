import type { z } from 'zod';
import { componentSpecSchema, makeComponent } from '#core/components';
import { AS_USUAL } from '#core/cutting';
import { failed, issue, type Result, done } from '#core/issues';
import { ON_MASTER } from './shelf-place.ts';
import { SET_VERSION, type SetRecord, setSchema } from './set-record.ts';
import { MACHINE_VERSION, type MachineRecord, machineSchema, USUAL_WAITS } from './machine-record.ts';
import { SET_UP_VERSION, type SetUpRecord, setUpSchema } from './set-up-record.ts';
import { TRIAL_VERSION, type TrialRecord, trialSchema } from './trial-record.ts';
import { ASSEMBLY_VERSION, type AssemblyRecord, assemblySchema } from './assembly-record.ts';
import { OUTLINE_VERSION, type OutlineRecord, outlineSchema } from './outline-record.ts';
import { COMPONENT_VERSION, type ComponentRecord, componentSchema } from './component-record.ts';

/** What the Shelf keeps. */
export type ShelvedRecord = ComponentRecord | AssemblyRecord | OutlineRecord;
export type AnyRecord = ShelvedRecord | SetRecord | MachineRecord | SetUpRecord | TrialRecord;

/** Whether a record has a place on the Shelf: sets, machines, what stands on them and what is tried there have none. */
export const isShelved = (record: AnyRecord | undefined): record is ShelvedRecord => record !== undefined && 'shelf' in record;

type Plain = Record<string, unknown>;

// From each version to the next. A step is never changed once a release has written its version.
// The numbers of a component of data, as its specification makes them.
function withValues(source: Plain): Plain {
  const spec = source?.kind === 'data' ? componentSpecSchema.safeParse(source.spec) : undefined;
  const made = spec?.success ? makeComponent(spec.data) : undefined;
  return spec ? { ...source, values: made?.ok ? made.part.values : {} } : source;
}

const componentSteps: Record<number, (record: Plain) => Plain> = {
  // 1 had no kind of component.
  1: (r) => ({ ...r, version: 2, componentKind: r.componentKind ?? 'other' }),
  // 2 knew STEP only, in the file's own unit, and had no cuts, colours or designation.
  2: (r) => {
    const source = (typeof r.source === 'object' ? r.source : {}) as Plain;
    return { ...r, version: 3, source: { ...source, foundScale: source.unitScale }, cuts: [], faceColours: [], designation: '' };
  },
  // 3 had no inserts added and no bodies moved, and geometry of one part that was proven by its builder alone: it is out of date.
  3: (r) => ({
    ...r,
    version: 4,
    inserts: [],
    moves: [],
    geometry: (Array.isArray(r.geometry) ? (r.geometry as Plain[]) : []).map((g) => ({
      ...g,
      closeBelow: 0,
      overrides: {},
      parts: [],
      inputs: '0'.repeat(64),
    })),
  }),
  // 4 had outer profiles of straight pieces only, all bores closed, and parts whose growth was not weighed by their area: what was made so is out
  // of date.
  4: (r) => ({
    ...r,
    version: 5,
    plan: null,
    geometry: (Array.isArray(r.geometry) ? (r.geometry as Plain[]) : []).map(({ profile: _, ...g }) => ({
      ...g,
      parts: [],
      bores: 'closed',
      checkCost: { before: 0, after: 0 },
      drawn: null,
      inputs: '0'.repeat(64),
    })),
  }),
  // 5 had no source but a vendor's file.
  5: (r) => ({ ...r, version: 6, source: { ...(typeof r.source === 'object' ? r.source : {}), kind: 'file' } }),
  // 6 had no components of data.
  6: (r) => ({ ...r, version: 7 }),
  // 7 was on the master shelf.
  7: (r) => ({ ...r, version: 8, shelf: ON_MASTER, source: withValues(r.source as Plain) }),
  // 8 had nothing said of its use.
  8: (r) => ({ ...r, version: 9, use: AS_USUAL }),
};
const outlineSteps: Record<number, (record: Plain) => Plain> = {
  // 1 was on the master shelf.
  1: (r) => ({ ...r, version: 2, shelf: ON_MASTER }),
};
const assemblySteps: Record<number, (record: Plain) => Plain> = {
  // 1 was on the master shelf.
  1: (r) => ({ ...r, version: 2, shelf: ON_MASTER }),
  // 2 had no edges of its own.
  2: (r) => ({ ...r, version: 3, edges: [] }),
};

const trialSteps: Record<number, (record: Plain) => Plain> = {
  // 1 was held in the chuck only.
  1: (r) => ({ ...r, version: 2, support: null }),
  // 2 knew the part's own zero only.
  2: (r) => ({ ...r, version: 3, zeros: {} }),
  // 3 had one program, of whichever carrier has its tools.
  3: ({ program, ...r }) => ({ ...r, version: 4, programs: [{ ...(typeof program === 'object' ? program : {}), carrier: null }] }),
  // 4 knew tailstocks only.
  4: (r) => ({ ...r, version: 5 }),
};
const machineSteps: Record<number, (record: Plain) => Plain> = {
  // 1 knew no channels that wait for each other.
  1: (r) => ({ ...r, version: 2, control: { ...(typeof r.control === 'object' ? r.control : {}), waits: USUAL_WAITS } }),
  // 2 knew chucks and discs by their sizes only.
  2: (r) => ({ ...r, version: 3 }),
};

const KINDS: Readonly<Record<AnyRecord['kind'], { steps: typeof componentSteps; newest: number; schema: z.ZodType<AnyRecord> }>> = {
  component: { steps: componentSteps, newest: COMPONENT_VERSION, schema: componentSchema },
  assembly: { steps: assemblySteps, newest: ASSEMBLY_VERSION, schema: assemblySchema },
  outline: { steps: outlineSteps, newest: OUTLINE_VERSION, schema: outlineSchema },
  set: { steps: {}, newest: SET_VERSION, schema: setSchema },
  machine: { steps: machineSteps, newest: MACHINE_VERSION, schema: machineSchema },
  'set-up': { steps: {}, newest: SET_UP_VERSION, schema: setUpSchema },
  trial: { steps: trialSteps, newest: TRIAL_VERSION, schema: trialSchema },
};

/** Validates a stored or packed record of any version and brings it to the newest one. */
export function readRecord(raw: unknown, file: string): Result<AnyRecord> {
  if (typeof raw !== 'object' || raw === null) return failed('record.bad', { file, field: 'record', text: 'it is not an object' });
  let record = { ...(raw as Plain) };
  const kind = KINDS[record.kind as AnyRecord['kind']];
  if (!kind)
    return failed('record.bad', { file, field: 'kind', text: 'it is neither a component, an assembly, an outline, a set, a machine, a set-up nor a trial' });
  const { steps, newest, schema } = kind;
  let version = Number(record.version);
  if (version > newest) return failed('package.newer', { file, version, limit: newest });
  while (version < newest && steps[version]) {
    record = steps[version](record);
    version = Number(record.version);
  }
  const parsed = schema.safeParse(record);
  if (parsed.success) return done(parsed.data);
  return {
    ok: false,
    issues: parsed.error.issues.slice(0, 5).map((i) => issue('record.bad', { file, field: i.path.join('.') || 'record', text: i.message })),
  };
}

/** Whether something says of itself that it is a record of the newest version; whether it is one, `readRecord` tells. */
export function isNewest(raw: unknown): raw is AnyRecord {
  const { kind, version } = (typeof raw === 'object' && raw !== null ? raw : {}) as Plain;
  return typeof kind === 'string' && Object.hasOwn(KINDS, kind) && KINDS[kind as AnyRecord['kind']].newest === version;
}

/** The same of a file that holds one record as JSON. */
export function readRecordFile(bytes: Uint8Array, file: string): Result<AnyRecord> {
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    return failed('record.bad', { file, field: 'record', text: error instanceof Error ? error.message : 'it is not JSON' });
  }
  return readRecord(raw, file);
}
