import { addScaled, degFromRad, dot, type Frame, length, roundTo, subtract, type Vec3, yOf } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { across, lookAtFaces, planesOf, sayFace } from './face-table.ts';
import { extentOfFace } from './round-groups.ts';
import type { FoundTip } from './tips.ts';

// Of its radius: how far from the axis a point's cone may end, at a thinned web or a flat.
const WIDEST_WEB = 0.5;

/** The point of a drill: cone faces about the mount's axis whose tip is the furthest point of the body. The tip is the point itself. */
export function findDrillPoint(body: BodyGeometry, mount: Frame): FoundTip | undefined {
  const cones = lookAtFaces(body).filter((f) => {
    const s = f.surface;
    if (s.kind !== 'cone' || s.concave || s.halfAngleRad < 0.5 || s.halfAngleRad > 1.5 || dot(s.axis, mount.z) < 0.9999) return false;
    return length(across(subtract(s.origin, mount.origin), mount.z)) < 0.02;
  });
  const reach = furthestOnAxis(body, mount);
  for (const f of cones) {
    const s = f.surface;
    if (s.kind !== 'cone') continue;
    const apex = addScaled(s.origin, s.axis, s.radiusLarge / Math.tan(s.halfAngleRad));
    const z = dot(subtract(apex, mount.origin), mount.z);
    // The web may be thinned: the material ends a little short of the cone's own tip.
    if (z < reach - 0.01 || z > reach + 0.35 * s.radiusLarge) continue;
    // A flank of a thread's tooth has its tip somewhere as well, but ends far from the axis.
    const inner = (z - extentOfFace(f, mount.origin, mount.z)[1]) * Math.tan(s.halfAngleRad);
    if (inner > WIDEST_WEB * s.radiusLarge) continue;
    // A countersink has a flat there: it ends where that is.
    const isFlat =
      z - reach > 0.02 &&
      planesOf(lookAtFaces(body)).some((p) => dot(p.outward, mount.z) > 0.9999 && Math.abs(p.offset - dot(mount.origin, mount.z) - reach) < 0.02);
    const end = isFlat ? addScaled(apex, mount.z, reach - z) : apex;
    return tipOnAxis(body, end, mount, {
      pointDeg: roundTo(2 * degFromRad(s.halfAngleRad), 3),
      confidence: 0.9,
      evidence: `${sayFace(f)}: point angle ${degFromRad(2 * s.halfAngleRad).toFixed(1)}, ${isFlat ? 'a flat before its tip' : 'its tip'} is the end of the tool`,
      faces: [f.index],
    });
  }
  return undefined;
}

// Of an open body the face that is missing may be the one at its end.
const WHERE_OPEN = 0.6;

/** Where a round cutter without a point ends on its axis: what its length is told to. */
export function findAxisEnd(body: BodyGeometry, mount: Frame, confidence: number): FoundTip {
  const end = addScaled(mount.origin, mount.z, furthestOnAxis(body, mount));
  const evidence = `the end of ${body.id} on the axis${body.closed ? '' : ', which is open: a face is missing, maybe there'}`;
  return tipOnAxis(body, end, mount, { pointDeg: 180, confidence: body.closed ? confidence : Math.min(confidence, WHERE_OPEN), evidence, faces: [] });
}

function tipOnAxis(
  body: BodyGeometry,
  at: Vec3,
  mount: Frame,
  { pointDeg, ...how }: { readonly pointDeg: number } & Pick<FoundTip, 'confidence' | 'evidence' | 'faces'>,
): FoundTip {
  return {
    body: body.id,
    kind: 'point',
    noseRadius: 0,
    noseCentre: at,
    virtualTip: at,
    towards: mount.z,
    rake: yOf(mount),
    enteringAngle: roundTo(pointDeg / 2, 3),
    includedAngle: pointDeg,
    includedAngleInPlane: pointDeg,
    hand: 'neutral',
    tipOrientation: 7,
    ...how,
  };
}

function furthestOnAxis(body: BodyGeometry, mount: Frame): number {
  const { positions: p } = body.mesh;
  let most = -Infinity;
  for (let i = 0; i < p.length; i += 3) most = Math.max(most, dot(subtract([p[i], p[i + 1], p[i + 2]], mount.origin), mount.z));
  return most;
}
