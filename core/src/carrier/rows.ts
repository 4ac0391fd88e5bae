import type { ComponentsById } from '#core/assembly';
import type { Motion } from '#core/math';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, Carrier, Check, ComponentRecord, MachineRecord, Place, PlacedEdge, SetUpRecord, SpindleSide } from '#core/records';
import type { EdgeAtWork, OwnEdge } from './edge-at-work.ts';
import type { SlideGeometry } from './slide.ts';
import type { SwivelWindow } from './swivel.ts';

/** What a set-up is told from. */
export interface SetUpParts {
  readonly machine: MachineRecord;
  readonly setUp: SetUpRecord;
  readonly assemblies: Readonly<Record<string, AssemblyRecord | undefined>>;
  readonly components: ComponentsById;
  /** By component; what has none is told as far as its marks go. */
  readonly models: Readonly<Record<string, Model | undefined>>;
}

/** An edge of a set-up, in all that its control and its programmer are told. */
export interface EdgeRow {
  readonly own: OwnEdge;
  readonly said: PlacedEdge | undefined;
  readonly spindle: SpindleSide;
  readonly atWork: EdgeAtWork;
  readonly tool: number;
  /** Undefined where nobody gave it one, and it is not the first of its tool. */
  readonly offset: number | undefined;
  /** As the control calls it. */
  readonly tipOrientation: number;
  /** The code that the spindle turns the work with; null where nothing tells. */
  readonly sense: 'M3' | 'M4' | null;
  /** The code that it is to run with, where the place or the assembly says one. */
  readonly asked: 'M3' | 'M4' | undefined;
  /** X as the control tells it: on diameter, where it does. */
  readonly controlX: number;
  /** By how much the radius is wrong on the blank's diameter for what the point stands off the turning plane; mm. */
  readonly indexError: number;
  readonly swivel?: SwivelRow;
  readonly slide?: SlideGeometry;
  readonly checks: readonly Check[];
}

/** An edge in a swivel head. */
export interface SwivelRow {
  readonly angle: number;
  /** As the control calls that angle; undefined where its range has no name for it. */
  readonly control: number | undefined;
  readonly window: SwivelWindow | undefined;
}

/** A station with what stands there. */
export interface StationRow {
  readonly place: Place;
  readonly carrier: Carrier | undefined;
  readonly assembly: AssemblyRecord | undefined;
  /** The piece that stands in the carrier. */
  readonly first: ComponentRecord | undefined;
  readonly isDriven: boolean;
  /** Where it stands: machine-from-gauge with the carrier's reference in the machine's origin. Undefined where its carrier is not there. */
  readonly motion: Motion | undefined;
  readonly edges: readonly EdgeRow[];
  readonly reach: Reach | undefined;
  readonly checks: readonly Check[];
}

export interface SetUpTable {
  readonly stations: readonly StationRow[];
  /** Of the whole: numbers that are given twice, spindles that are not there. */
  readonly checks: readonly Check[];
}

/** How far a station's tool gets within the travel of its carrier; mm on radius. The worst of its edges counts. */
export interface Reach {
  /** How far the programmed point passes the spindle axis; negative where it does not get there. */
  readonly pastCentre: number;
  /** How far it passes the front of the jaws towards the chuck; negative where it does not get there. */
  readonly pastJaws: number;
  /** The largest length of work before the jaws whose face it still gets to. */
  readonly longest: number;
  readonly edge: string;
}
