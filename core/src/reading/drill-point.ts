import { addScaled, cross, degFromRad, dot, type Frame, length, roundTo, subtract } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { across, lookAtFaces, sayFace } from './face-table.ts';
import type { FoundTip } from './tips.ts';

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
    const point = roundTo(2 * degFromRad(s.halfAngleRad), 3);
    return {
      body: body.id,
      kind: 'point',
      noseRadius: 0,
      noseCentre: apex,
      virtualTip: apex,
      towards: mount.z,
      rake: cross(mount.z, mount.x),
      enteringAngle: roundTo(point / 2, 3),
      includedAngle: point,
      hand: 'neutral',
      tipOrientation: 7,
      confidence: 0.9,
      evidence: `${sayFace(f)}: point angle ${point.toFixed(1)}, its tip is the end of the tool`,
      faces: [f.index],
    };
  }
  return undefined;
}

function furthestOnAxis(body: BodyGeometry, mount: Frame): number {
  const { positions: p } = body.mesh;
  let most = -Infinity;
  for (let i = 0; i < p.length; i += 3) most = Math.max(most, dot(subtract([p[i], p[i + 1], p[i + 2]], mount.origin), mount.z));
  return most;
}
