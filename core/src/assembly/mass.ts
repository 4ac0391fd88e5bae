import { addScaled, IDENTITY_FRAME, invert, type Motion, move, moveFrame, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { type ComponentRecord, materialOf, MATERIALS } from '#core/records';
import { largestSwing } from '#core/reading';
import { reachAlongMount } from './checks.ts';
import { type ChainOfPieces, type ComponentsById, placePieces } from './join.ts';

/** Of an assembly, in its gauge frame. */
export interface MassOf {
  /** kg */
  readonly mass: number;
  /** mm */
  readonly centreOfMass: Vec3;
  /** g mm about the gauge frame's Z. */
  readonly unbalance: number;
  /** Largest diameter about the gauge frame's Z, mm. */
  readonly largestDiameter: number;
}

type Models = Readonly<Record<string, Model | undefined>>;

/** A body of an assembly where it is. */
export interface PlacedBody {
  readonly piece: string;
  readonly component: ComponentRecord;
  readonly body: BodyGeometry;
  readonly gaugeFromFile: Motion;
}

/** All bodies of the placed pieces whose models are known, but those that are left out. */
export function placeBodies(assembly: ChainOfPieces, components: ComponentsById, models: Models, placed = placePieces(assembly, components)): PlacedBody[] {
  return assembly.pieces.flatMap((piece) => {
    const component = components[piece.componentId];
    const gaugeFromFile = placed.get(piece.id);
    const model = models[piece.componentId];
    if (!component || !gaugeFromFile || !model) return [];
    const isLeftOut = (id: string) => component.bodies.find((b) => b.id === id)?.role === 'left out';
    return model.bodies.filter((b) => !isLeftOut(b.id)).map((body) => ({ piece: piece.id, component, body, gaugeFromFile }));
  });
}

/** Mass, its centre, unbalance and largest diameter; volumes and centres of the bodies as their models give them. Undefined of nothing. */
export function massOf(bodies: readonly PlacedBody[]): MassOf | undefined {
  let grams = 0;
  let moment: Vec3 = [0, 0, 0];
  let widest = 0;
  for (const { component, body, gaugeFromFile } of bodies) {
    const m = (MATERIALS[materialOf(component, body.id)].density * body.volume) / 1000;
    grams += m;
    moment = addScaled(moment, move(gaugeFromFile, body.centroid), m);
    widest = Math.max(widest, largestSwing([body], moveFrame(invert(gaugeFromFile), IDENTITY_FRAME)));
  }
  if (grams === 0) return undefined;
  return {
    mass: grams / 1000,
    centreOfMass: [moment[0] / grams, moment[1] / grams, moment[2] / grams],
    unbalance: Math.hypot(moment[0], moment[1]),
    largestDiameter: widest,
  };
}

/** How far what cuts stands out of what holds it, against its shank. */
export interface Overhang {
  readonly piece: string;
  /** mm from the seat to the front. */
  readonly length: number;
  /** mm: of a square shank its height. */
  readonly diameter: number;
  readonly ratio: number;
  readonly material: string;
  /** Rule of thumb for that material. */
  readonly limit: number;
}

// Length over diameter of a bar: a rule of thumb of the trade.
const OVERHANG_LIMITS: Readonly<Record<string, number>> = { steel: 4, 'high-speed steel': 4, aluminium: 3, 'heavy metal': 6, carbide: 6 };

/** The overhang of each piece that is held by a shank and has a tip. */
export function overhangsOf(assembly: ChainOfPieces, components: ComponentsById, models: Models): Overhang[] {
  return assembly.pieces.flatMap((piece): Overhang[] => {
    const component = components[piece.componentId];
    const model = models[piece.componentId];
    if (!piece.parent || !component?.mount || !model || component.tips.length === 0) return [];
    const { standard, size } = component.mount.connection;
    if (standard !== 'cylindrical' && standard !== 'square') return [];
    const diameter = Number.parseFloat(String(size));
    const long = piece.stickOut + reachAlongMount(component, model)[1];
    if (!(diameter > 0) || long <= 0) return [];
    const material = materialOf(component, shankBody(component, model));
    return [{ piece: piece.id, length: long, diameter, ratio: long / diameter, material, limit: OVERHANG_LIMITS[material] ?? 4 }];
  });
}

// The body that the mount is on: the one that reaches furthest back.
function shankBody(component: ComponentRecord, model: Model): string {
  const [back] = model.bodies
    .filter((b) => component.bodies.find((e) => e.id === b.id)?.role !== 'left out')
    .map((b) => ({ id: b.id, low: reachAlongMount(component, { bodies: [b] })[0] }))
    .sort((a, b) => a.low - b.low);
  return back.id;
}
