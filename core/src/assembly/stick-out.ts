import { z } from 'zod';
import { done, failed, type Result } from '#core/issues';
import { dot, frameFromWorld, subtract, type Vec3 } from '#core/math';
import { type Model, movePoints } from '#core/mesh';
import { type ComponentRecord, mountFrameOf } from '#core/records';
import { branchOf } from './change-chain.ts';
import { reachAlongMount } from './checks.ts';
import { type ChainOfPieces, type ComponentsById, gaugeLineAt, measuredTip, placeFrame, placePieces, placeTips } from './join.ts';

/** By what a stick-out is said. Lengths in mm. */
export const stickOutSchema = z.discriminatedUnion('by', [
  /** From the seat to the front of the piece. */
  z.object({ by: z.literal('length'), value: z.number() }),
  /** How long its shank is held. */
  z.object({ by: z.literal('clamping'), value: z.number() }),
  /** What the whole is to be long. */
  z.object({ by: z.literal('gauge length'), value: z.number() }),
  /** Pushed in until its shoulder is at the face. */
  z.object({ by: z.literal('shoulder') }),
  /** As far as it cuts: the face is where that begins. */
  z.object({ by: z.literal('flutes') }),
]);
export type StickOutWay = z.infer<typeof stickOutSchema>;

/** The stick-out (mm from the seat to the mount along the seat's Z) that a way of saying it means; where it cannot be, why. */
export function stickOutOf(way: StickOutWay, assembly: ChainOfPieces, components: ComponentsById, pieceId: string, model: Model): Result<number> {
  const piece = assembly.pieces.find((p) => p.id === pieceId);
  const component = piece && components[piece.componentId];
  if (!piece?.parent || !component) return failed('join.no-piece', { piece: pieceId });
  const [behind, front] = reachAlongMount(component, model);
  switch (way.by) {
    case 'length':
      return done(way.value - front);
    case 'clamping':
      return done(-way.value - behind);
    case 'shoulder': {
      const shoulder = shoulderOf(component, model);
      return shoulder === undefined ? failed('stick-out.no-shoulder', { piece: component.name }) : done(-shoulder);
    }
    case 'flutes': {
      const begins = cuttingFrom(component, model);
      return begins === undefined ? failed('stick-out.no-flutes', { piece: component.name }) : done(-begins);
    }
    case 'gauge length':
      return hit(way.value, assembly, components, pieceId, component.name);
  }
}

// The gauge length changes evenly with the stick-out, by the cosine between the seat and the gauge line.
function hit(wanted: number, assembly: ChainOfPieces, components: ComponentsById, pieceId: string, name: string): Result<number> {
  const piece = assembly.pieces.find((p) => p.id === pieceId);
  const placed = placePieces(assembly, components);
  const parent = assembly.pieces.find((p) => p.id === piece?.parent?.pieceId);
  const gaugeFromParent = parent && placed.get(parent.id);
  const seat = parent && components[parent.componentId]?.seats.find((s) => s.id === piece?.parent?.seatId);
  const measured = measuredTip(assembly, placeTips(assembly, components, placed));
  if (!piece || !gaugeFromParent || !seat || !measured) return failed('stick-out.no-gauge-length', { piece: name });
  // What goes along with the piece: the edge has to, the gauge line must not.
  const branch = branchOf(assembly, pieceId);
  const line = gaugeLineAt(assembly, components);
  if (!branch.has(measured.piece) || (line && branch.has(line.piece))) return failed('stick-out.no-effect', { piece: name });
  const along = placeFrame(gaugeFromParent, seat.frame).z[2];
  if (Math.abs(along) < 0.05) return failed('stick-out.across', { piece: name });
  return done(piece.stickOut + (wanted - measured.L) / along);
}

/** Where the shank goes over into something wider, mm along the mount's Z; undefined where it does not, or is not round. */
export function shoulderOf(component: ComponentRecord, model: Model): number | undefined {
  const { mount } = component;
  // Of a square one every corner is further out than its sides.
  if (mount?.connection.standard !== 'cylindrical') return undefined;
  const radius = Number.parseFloat(String(mount.connection.size)) / 2;
  const inMount = frameFromWorld(mount.frame);
  let shoulder: number | undefined;
  for (const body of model.bodies) {
    const isWorking = component.bodies.find((b) => b.id === body.id)?.role;
    if (isWorking === 'left out') continue;
    const p = movePoints(inMount, body.mesh.positions);
    // The nearest to the rear of what is wider than the shank.
    for (let i = 0; i < p.length; i += 3) if (Math.hypot(p[i], p[i + 1]) > radius * 1.02 + 0.05) shoulder = Math.min(shoulder ?? Infinity, p[i + 2]);
  }
  return shoulder;
}

/** Where what cuts begins, mm along the mount's Z; undefined where all of it cuts or none. */
export function cuttingFrom(component: ComponentRecord, model: Model): number | undefined {
  const { origin, z } = mountFrameOf(component);
  const cutting = model.bodies.filter((b) => component.bodies.find((e) => e.id === b.id)?.role === 'cutting');
  if (cutting.length === 0 || cutting.length === model.bodies.length) return undefined;
  let low = Infinity;
  for (const { mesh } of cutting)
    for (let i = 0; i < mesh.positions.length; i += 3) {
      const at: Vec3 = [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]];
      low = Math.min(low, dot(subtract(at, origin), z));
    }
  return low;
}
