import { computeRevolvedEnvelope, type Axis, isSameLine } from '#core/envelope';
import { done, failed, issue, type Issue, type Result } from '#core/issues';
import { hasBrep, type Kernel, OpenModel } from '#core/kernel';
import { normalize, scale } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { facingOut, type HalfProfile } from '#core/outline';
import { NO_CHOICE } from '#core/records';
import { drawingFormatOf, outlinePartOf, readOutlineFile } from './drawn/index.ts';

/** What is turned, as a half section [z, r] in mm: its front at z 0. */
export interface PartSection {
  readonly profile: HalfProfile;
  readonly warnings: readonly Issue[];
}

// mm. Chords that a model is looked at with, and how far its section may stand outside of its faces.
const CHORD = 0.01;
const OUTSIDE = 0.002;
// mm3 of a thousand that what is turned may have more than the model.
const ROUND = 2e-3;
// mm, radians. Faces about one line.
const SAME_LINE = 0.01;
const SAME_WAY = 1e-3;

/**
 * The half section of a part from a drawing or a model: what a drawing shows on one side of its axis, or what a model's largest body sweeps about the line that most of its
 * faces turn about, its bores open. What is not turned (flats, slots, holes across) is filled in that way, and said.
 */
export async function readPartSection(kernel: Kernel, bytes: Uint8Array, file: string): Promise<Result<PartSection>> {
  if (drawingFormatOf(file)) {
    const read = readOutlineFile(bytes, file, { ...NO_CHOICE, form: 'revolved' });
    if (!read.ok) return read;
    return done({ profile: facingOut(outlinePartOf(read.value).profile), warnings: read.value.warnings });
  }
  const opened = await OpenModel.open(kernel, bytes, file);
  if (!opened.ok) return opened;
  try {
    const read = opened.value.read({ chordTolerance: CHORD });
    return read.ok ? sectionOf(opened.value, read.value.model.bodies, file, hasBrep(bytes, file)) : read;
  } finally {
    opened.value.close();
  }
}

function sectionOf(opened: OpenModel, bodies: readonly BodyGeometry[], file: string, isExact: boolean): Result<PartSection> {
  const body = bodies.reduce<BodyGeometry | undefined>((most, b) => (most && most.volume >= b.volume ? most : b), undefined);
  const axis = body && axisOf(body);
  if (!body || !axis) return failed('section.no-axis', { file });
  const sampled = opened.sample({ chordTolerance: CHORD, ids: [body.id] });
  if (!sampled.ok) return sampled;
  const made = computeRevolvedEnvelope(sampled.value, axis, OUTSIDE, { keep: 'open', closeBelow: 0 });
  if (!made.ok) return made;
  const { profile, volume } = made.value;
  const more = volume / sampled.value[0].volume - 1;
  const warnings: Issue[] = [];
  if (more > ROUND) warnings.push(issue('section.not-round', { file, percent: (100 * more).toFixed(1) }));
  if (bodies.length > 1) warnings.push(issue('section.more-bodies', { file, count: bodies.length }));
  if (!isExact) warnings.push(issue('section.mesh', { file }));
  return done({ profile: facingOut(profile), warnings });
}

interface Line extends Axis {
  weight: number;
}

// The line that most of the faces of a body turn about, by their areas; it points along the file's own Z, Y or X, whichever it is nearest to.
function axisOf({ faces }: BodyGeometry): Axis | undefined {
  const lines: Line[] = [];
  for (const { surface: s } of faces) {
    if (s.kind !== 'cylinder' && s.kind !== 'cone' && s.kind !== 'torus') continue;
    const origin = s.kind === 'torus' ? s.centre : s.origin;
    const direction = normalize(s.axis);
    const weight =
      s.kind === 'cylinder' ? s.radius * s.length : s.kind === 'cone' ? ((s.radiusLarge + s.radiusSmall) / 2) * s.length : s.majorRadius * s.minorRadius;
    const known = lines.find((l) => isSameLine(l, origin, direction, SAME_LINE, SAME_WAY));
    if (known) known.weight += weight;
    else lines.push({ origin, direction, weight });
  }
  const best = lines.reduce<Line | undefined>((most, l) => (most && most.weight >= l.weight ? most : l), undefined);
  if (!best) return undefined;
  const main = [2, 1, 0].reduce((m, k) => (Math.abs(best.direction[k]) > Math.abs(best.direction[m]) + 1e-9 ? k : m), 2);
  return { origin: best.origin, direction: best.direction[main] < 0 ? scale(best.direction, -1) : best.direction };
}
