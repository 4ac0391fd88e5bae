import type { Segment, SegmentKind, Stack } from './stack-schema.ts';

// Changes of a stack. Diameters that are shared change together, along cylinders to the segments beyond.

type Segments = readonly Segment[];

/** Half the angle of a cone, degrees; positive where it widens towards the work. */
export const halfAngleDeg = ({ from, to, length }: Pick<Segment, 'from' | 'to' | 'length'>): number => (Math.atan2((to - from) / 2, length) * 180) / Math.PI;

/** Sets the diameter at one side of a segment, and of all that share it. */
export function withDiameter(segments: Segments, index: number, side: 'from' | 'to', diameter: number): Segment[] {
  const out = [...segments];
  const set = (i: number, at: 'from' | 'to', seen: Set<string>): void => {
    const key = `${i} ${at}`;
    if (i < 0 || i >= out.length || seen.has(key)) return;
    seen.add(key);
    out[i] = fitted({ ...out[i], [at]: diameter });
    if (isEven(out[i].kind)) set(i, at === 'from' ? 'to' : 'from', seen);
    if (at === 'from' && out[i].shared) set(i - 1, 'to', seen);
    if (at === 'to' && out[i + 1]?.shared) set(i + 1, 'from', seen);
  };
  set(index, side, new Set());
  return out;
}

/** Sets a length; of a ball end its diameter follows. */
export const withLength = (segments: Segments, index: number, length: number): Segment[] =>
  segments[index].kind === 'ball' ? withDiameter(segments, index, 'from', 2 * length) : segments.map((s, i) => (i === index ? fitted({ ...s, length }) : s));

/** Sets half the angle of a cone: its diameter at the work's side follows. */
export function withHalfAngle(segments: Segments, index: number, deg: number): Segment[] {
  const { from, length } = segments[index];
  return withDiameter(segments, index, 'to', Math.max(0, from + 2 * length * Math.tan((deg * Math.PI) / 180)));
}

export const withRadius = (segments: Segments, index: number, radius: number): Segment[] => segments.map((s, i) => (i === index ? { ...s, radius } : s));

/** Ties the first diameter of a segment to the one before, which it takes over, or sets it free. */
export function withShared(segments: Segments, index: number, shared: boolean): Segment[] {
  const tied = segments.map((s, i) => (i === index ? { ...s, shared } : s));
  return shared && index > 0 ? withDiameter(tied, index, 'from', segments[index - 1].to) : tied;
}

/** Puts a new segment before `index`, as wide as what it follows, tied to it where a change of diameter is not what it is for. */
export function insertSegment(segments: Segments, index: number, kind: SegmentKind, id: string, between = 20): Segment[] {
  const diameter = segments[index - 1]?.to ?? segments[index]?.from ?? between;
  // Behind a tip there is no diameter to take over.
  const made = diameter > 0 ? newSegment(kind, diameter, id) : { ...newSegment(kind, between, id), shared: false };
  const next = segments[index];
  // What follows keeps its own diameter where the new one ends with another.
  const after = next && next.from !== made.to ? { ...next, shared: false } : next;
  return [...segments.slice(0, index), { ...made, shared: index > 0 && made.shared }, ...(after ? [after, ...segments.slice(index + 1)] : [])];
}

export function removeSegment(segments: Segments, index: number): Segment[] {
  const out = segments.filter((_, i) => i !== index);
  return untied(out);
}

export function moveSegment(segments: Segments, index: number, to: number): Segment[] {
  const out = segments.filter((_, i) => i !== index);
  out.splice(to, 0, segments[index]);
  return untied(out);
}

export function copySegment(segments: Segments, index: number, id: string): Segment[] {
  const out = [...segments];
  out.splice(index + 1, 0, { ...segments[index], id });
  return untied(out);
}

/** Another kind of the same stretch. */
export function withKind(segments: Segments, index: number, kind: SegmentKind): Segment[] {
  const changed = fitted({ ...segments[index], kind });
  const out = segments.map((s, i) => (i === index ? changed : s));
  return isEven(kind) || kind === 'ball' ? untied(withDiameter(out, index, 'from', segments[index].from)) : out;
}

/** A stack of few numbers: one cylinder under a connection. */
export const simpleStack = (connection: Stack['connection'], diameter: number, length: number, id: string): Stack => ({
  connection,
  segments: [{ ...newSegment('cylinder', diameter, id), length, shared: false }],
  bore: null,
});

const isEven = (kind: SegmentKind): boolean => kind === 'cylinder' || kind === 'groove';

// What no longer has the diameter that it shares does not share it.
const untied = (segments: Segments): Segment[] => segments.map((s, i) => (s.shared && segments[i - 1]?.to !== s.from ? { ...s, shared: false } : s));

// A segment whose numbers go together: a ball is half as long as it is wide, an arc reaches from end to end.
function fitted(s: Segment): Segment {
  if (s.kind === 'ball') return { ...s, to: 0, length: s.from / 2, radius: s.from / 2 };
  if (s.kind !== 'convex' && s.kind !== 'concave') return s;
  return { ...s, radius: Math.max(s.radius, Math.hypot(s.length, (s.to - s.from) / 2) / 2) };
}

function newSegment(kind: SegmentKind, diameter: number, id: string): Segment {
  const even = { id, kind, length: Math.max(1, Math.round(diameter)), from: diameter, to: diameter, radius: 0, shared: true };
  switch (kind) {
    case 'cylinder':
      return even;
    case 'cone':
      return { ...even, to: tidy(0.8 * diameter) };
    case 'chamfer':
      return { ...even, length: 1, to: Math.max(0, diameter - 2) };
    case 'groove':
      return { ...even, length: tidy(diameter / 4), from: tidy(0.8 * diameter), to: tidy(0.8 * diameter), shared: false };
    case 'ball':
      return fitted(even);
    case 'convex':
    case 'concave': {
      const to = tidy(0.8 * diameter);
      const length = Math.max(0.5, (diameter - to) / 2);
      return fitted({ ...even, length, to, radius: length });
    }
  }
}

const tidy = (mm: number): number => Math.max(0.1, Math.round(mm * 10) / 10);
