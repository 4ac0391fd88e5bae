import { type EdgeRow, fromNose, jawFront, noseAt, planeOf, toMachine, type SetUpParts, type SetUpTable, setUpTable, type StationRow } from '#core/carrier';
import type { Frame, Vec3 } from '#core/math';
import { type FlatPoint, type HalfProfile, loopThrough } from '#core/outline';
import type { Carrier, OtherZero, SpindleSide, Support } from '#core/records';
import { done, type Issue, type Result } from '#core/issues';
import { compensated } from './program/compensate.ts';
import type { ProgramSetting, Step } from './program/moves.ts';
import { readProgram } from './program/read-program.ts';

/** What a trial is made of: a set-up, what is turned in which spindle, and out of what. Profiles in [z, r] of the part: z 0 is the zero of its program, away from the chuck. */
export interface TrialJob {
  readonly spindle: SpindleSide;
  /** From the jaws' front to the zero of the part, mm. */
  readonly zero: number;
  /** What is to come out; without it nothing is compared. */
  readonly contour: HalfProfile | undefined;
  /** What it is turned from; without it the set-up's blank. */
  readonly stock: HalfProfile | undefined;
  /** What holds its front; nothing without. */
  readonly support: Support | undefined;
  /** Of the other work coordinate systems, along Z of the part. */
  readonly zeros: Readonly<Partial<Record<OtherZero, number>>>;
  /** mm. What gets nearer than this without cutting is told. */
  readonly clearance: number;
  /** mm. How far a cut may go into the part. */
  readonly tolerance: number;
}

/** An edge of a loaded set-up that works at the trial's spindle. */
export interface LoadedEdge {
  readonly row: StationRow;
  readonly edge: EdgeRow;
  readonly carrier: Carrier;
}

/** A set-up seen from the part. */
export interface TrialSetting {
  readonly parts: SetUpParts;
  readonly job: TrialJob;
  readonly table: SetUpTable;
  readonly edges: readonly LoadedEdge[];
  /** The turning plane of the spindle as a carrier sees it. */
  readonly planeFor: (carrier: Carrier) => Frame;
  /** Z of the part for Z of the machine. */
  readonly partZ: (machineZ: number) => number;
  /** Where a carrier's reference stands in the machine for its place in the part's [z, x]. */
  readonly placeInMachine: (carrier: Carrier, at: FlatPoint) => Vec3;
  /** Where the jaws end, along Z of the part. */
  readonly jawsAt: number;
}

export function trialSetting(parts: SetUpParts, job: TrialJob): TrialSetting {
  const table = setUpTable(parts);
  const { machine, setUp } = parts;
  const spindle = machine.spindles[job.spindle] ?? machine.spindles.main;
  const at = noseAt(machine, job.spindle, setUp) ?? 0;
  const front = jawFront(spindle);
  const edges = table.stations.flatMap((row): LoadedEdge[] => {
    const { carrier } = row;
    return carrier ? row.edges.filter((e) => e.spindle === job.spindle).map((edge) => ({ row, edge, carrier })) : [];
  });
  return {
    parts,
    job,
    table,
    edges,
    planeFor: (carrier) => planeOf({ machine, setUp }, job.spindle, carrier.side),
    partZ: (machineZ) => fromNose(job.spindle, at, machineZ) - front - job.zero,
    placeInMachine: (carrier, [z, x]) => [carrier.side === 'above' ? x : -x, 0, toMachine(job.spindle, at, z + job.zero + front)],
    jawsAt: -job.zero,
  };
}

/** A set-up as who moves one carrier sees it, by its id; all of it where nothing says which. */
export const ofCarrier = (setting: TrialSetting, carrier: string | null | undefined): TrialSetting =>
  carrier === null || carrier === undefined ? setting : { ...setting, edges: setting.edges.filter((e) => e.carrier.id === carrier) };

/** Carriers on which a tool's number stands, by name: where there are several, somebody has to say which one is meant. */
export const carriersOf = ({ edges }: Pick<TrialSetting, 'edges'>, tool: number): string[] => [
  ...new Set(edges.filter((e) => e.edge.tool === tool).map((e) => e.carrier.name)),
];

/** The edge that a program means by a tool and an offset: of those with that tool's number the one with that offset, else the first. */
export function edgeOf({ edges }: Pick<TrialSetting, 'edges'>, tool: number, offset: number | undefined): LoadedEdge | undefined {
  const of = edges.filter((e) => e.edge.tool === tool);
  return offset === undefined ? of[0] : of.find((e) => e.edge.offset === offset);
}

/** Where a carrier's reference can stand, [z, x] of the part. */
export function travelOf(
  { travel }: Carrier,
  { partZ }: Pick<TrialSetting, 'partZ'>,
): { readonly z: readonly [number, number]; readonly x: readonly [number, number] } {
  const ends = travel.z.map(partZ);
  return { z: [Math.min(...ends), Math.max(...ends)], x: travel.x };
}

/** What a program is read against: a carrier begins where it is farthest from chuck and axis. */
export function programSetting(setting: TrialSetting): ProgramSetting {
  const { control, unit } = setting.parts.machine;
  return {
    diameters: control.diameters,
    unit,
    toolDigits: control.toolDigits,
    offsetDigits: control.offsetDigits,
    toolOf: (tool, offset) => {
      const found = edgeOf(setting, tool, offset);
      if (!found) return undefined;
      const { carrier, edge } = found;
      const { z, x } = travelOf(carrier, setting);
      return { carrier: carrier.name, home: [z[1], x[1]], point: [edge.atWork.Z, edge.atWork.X], standsOn: carriersOf(setting, tool) };
    },
    zeros: setting.job.zeros,
    waits: control.waits,
  };
}

/** Reads a program as the steps that a set-up makes of it, the nose radius compensated where the program says so. */
export function readSteps(text: string, file: string, setting: TrialSetting): Result<{ readonly steps: readonly Step[]; readonly warnings: readonly Issue[] }> {
  const read = readProgram(text, file, programSetting(setting));
  if (!read.ok) return read;
  const steps = compensated(read.value.steps, file, (tool, offset) => {
    const edge = edgeOf(setting, tool, offset)?.edge;
    if (!edge || edge.own.programmed === 'picked point') return undefined;
    const { corner } = edge.atWork;
    return { radius: edge.own.noseRadius, point: edge.own.programmed === 'virtual tip' ? [corner.z, corner.x] : [0, 0] };
  });
  return steps.ok ? done({ steps: steps.value, warnings: read.value.warnings }) : steps;
}

/** The radius that the jaws of the trial's spindle stand on: that of what is turned, where it is in them; 0 where nothing is. */
export function grippedRadius(setting: Pick<TrialSetting, 'parts' | 'job' | 'jawsAt'>): number {
  const pieces = (stockOf(setting) ?? []).flat();
  return pieces.reduce((most, { from, to }) => (Math.min(from[0], to[0]) < setting.jawsAt ? Math.max(most, from[1], to[1]) : most), 0);
}

/** What is turned: what the job says, else the set-up's blank as it is gripped; undefined where there is none. */
export function stockOf({ parts: { machine, setUp }, job }: Pick<TrialSetting, 'parts' | 'job'>): HalfProfile | undefined {
  if (job.stock) return job.stock;
  const blank = setUp.blanks[job.spindle];
  const spindle = machine.spindles[job.spindle];
  if (!blank || !spindle || !(blank.diameter > 0) || !(blank.length > 0)) return undefined;
  const [from, to] = [-spindle.chuck.jawStep - job.zero, blank.length - job.zero];
  const [inner, outer] = [blank.bore / 2, blank.diameter / 2];
  return [
    loopThrough([
      [from, inner],
      [to, inner],
      [to, outer],
      [from, outer],
    ]),
  ];
}
