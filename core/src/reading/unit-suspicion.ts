import { boundsDiagonal, joinBounds } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import type { ReadingWarning, Shank } from './found.ts';
import { findShanks } from './shanks.ts';

const INCH = 25.4;
// mm. The smallest and the largest that tools of a lathe measure across.
const SMALLEST = 20;
const LARGEST = 900;

/**
 * A suspicion that a file counts in another unit than it says: no connection as it stands, but one of a standard's size after a factor of
 * 25.4; or a size that no tool has.
 */
export function suspectUnit(model: Model, shank?: Shank): ReadingWarning | undefined {
  const box = joinBounds(model.bodies.map((b) => b.bbox));
  const extent = box ? boundsDiagonal(box) : 0;
  const isPlausible = extent >= SMALLEST && extent <= LARGEST;
  if (shank && shank.confidence > 0.7 && isPlausible) return undefined;
  for (const [factor, text] of [
    [INCH, `${INCH} times larger`],
    [1 / INCH, `${INCH} times smaller`],
    [10, '10 times larger'],
    [1000, '1000 times larger'],
  ] as const) {
    const scaled = extent * factor;
    if (scaled < SMALLEST || scaled > LARGEST) continue;
    const heaviest = [...model.bodies].sort((a, b) => b.volume - a.volume)[0];
    const [found] = findShanks([scaledBody(heaviest, factor)]);
    if (found && found.confidence > Math.max(0.75, (shank?.confidence ?? 0) + 0.1))
      return {
        code: 'unit',
        message: `The unit looks wrong: ${text} it would have a ${found.connection.standard} ${found.connection.size} mount; as it is, ${shank ? 'its shank has no usual size' : 'none is found'}. Change the unit on the Bench.`,
      };
  }
  if (!isPlausible && extent > 0)
    return { code: 'unit', message: `It measures ${extent.toPrecision(3)} mm across, which no tool of a lathe does. Look at the unit.` };
  return undefined;
}

// A body in another unit; only what finding shanks looks at is scaled.
function scaledBody(body: BodyGeometry, f: number): BodyGeometry {
  const by = (v: readonly [number, number, number]) => [v[0] * f, v[1] * f, v[2] * f] as const;
  const packed = (a: Float64Array) => a.map((v) => v * f);
  return {
    ...body,
    volume: body.volume * f ** 3,
    area: body.area * f * f,
    bbox: { min: by(body.bbox.min), max: by(body.bbox.max) },
    centroid: by(body.centroid),
    faces: body.faces.map((face) => {
      const s = face.surface;
      switch (s.kind) {
        case 'plane':
          return { ...face, surface: { ...s, origin: by(s.origin) } };
        case 'cylinder':
          return { ...face, surface: { ...s, origin: by(s.origin), radius: s.radius * f, length: s.length * f } };
        case 'cone':
          return { ...face, surface: { ...s, origin: by(s.origin), radiusLarge: s.radiusLarge * f, radiusSmall: s.radiusSmall * f, length: s.length * f } };
        case 'torus':
          return { ...face, surface: { ...s, centre: by(s.centre), majorRadius: s.majorRadius * f, minorRadius: s.minorRadius * f } };
        case 'sphere':
          return { ...face, surface: { ...s, centre: by(s.centre), radius: s.radius * f } };
        default:
          return face;
      }
    }),
    mesh: { ...body.mesh, positions: packed(body.mesh.positions) },
  };
}
