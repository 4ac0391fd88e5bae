import { compose, invert, type Motion, move, scale, turn, type Vec3 } from '#core/math';
import { cornerTowards, type ModelSummary, mountFrameOf, posedFromFile } from './component.ts';
import type { BodyEntry, BodyMove, CutRecord } from './body-records.ts';
import type { ComponentRecord } from './component-record.ts';
import type { Connection, PoseStep, Tip } from './mark-records.ts';

/** A record whose unit is another one: every length that was marked grows with the model, so that marks stay on their faces. */
export function withUnitScale(record: ComponentRecord, unitScale: number): ComponentRecord {
  const f = unitScale / record.source.unitScale;
  const point = (p: Vec3): Vec3 => scale(p, f);
  const connection = (c: Connection): Connection => ({ ...c, frame: { ...c.frame, origin: point(c.frame.origin) } });
  const tip = (t: Tip): Tip => ({ ...t, noseRadius: t.noseRadius * f, noseCentre: point(t.noseCentre) });
  const step = (s: PoseStep): PoseStep => (s.kind === 'move' ? { ...s, by: point(s.by) } : { ...s, point: point(s.point) });
  const cut = (c: CutRecord): CutRecord => ({
    ...c,
    frame: { ...c.frame, origin: point(c.frame.origin) },
    outline: c.outline.map(([x, y]): [number, number] => [x * f, y * f]),
    from: c.from * f,
    to: c.to * f,
  });
  return {
    ...record,
    source: { ...record.source, unitScale },
    mount: record.mount && connection(record.mount),
    ...(record.feet ? { feet: record.feet.map(connection) } : {}),
    seats: record.seats.map(connection),
    tips: record.tips.map(tip),
    pose: record.pose.map(step),
    cuts: record.cuts.map(cut),
    inserts: record.inserts.map((n) => ({ ...n, frame: { ...n.frame, origin: point(n.frame.origin) } })),
    moves: record.moves.map((m) => ({ ...m, step: step(m.step) })),
  };
}

/**
 * A record whose file was opened anew, with its unit and cuts as they are in the record: its bodies are those of the model. What was said of
 * a body stays, a new one that was cut off cuts. Numbers of faces hold only where neither the body nor the list of bodies has changed.
 */
export function withModel(record: ComponentRecord, before: Pick<ComponentRecord, 'cuts'>, made: ModelSummary, modelBlob: string): ComponentRecord {
  const vendorCount = made.bodies.length - record.cuts.length - record.inserts.length;
  const changed = [...record.cuts, ...before.cuts].filter((c) => !(record.cuts.some((o) => o.id === c.id) && before.cuts.some((o) => o.id === c.id)));
  const isSame = (body: string) => changed.length === 0 || (Number(body.slice(1)) <= vendorCount && !changed.some((c) => c.body === body));
  return {
    ...record,
    model: { blob: modelBlob, faces: made.faces, triangles: made.triangles },
    bodies: made.bodies.map((b, i): BodyEntry => {
      const known = record.bodies.find((e) => e.id === b.id);
      return known ?? { ...b, role: i >= vendorCount ? 'cutting' : 'tool body', hidden: false };
    }),
    faceColours: record.faceColours.filter((c) => isSame(c.body)),
  };
}

/**
 * A record with other cuts. Bodies that were added are numbered after the vendor's, cuts before inserts: what is said of them goes with them to
 * their new numbers, and what was said of a body that is not cut off any more goes.
 */
export function withCuts(record: ComponentRecord, cuts: readonly CutRecord[]): ComponentRecord {
  const vendor = record.bodies.length - record.cuts.length - record.inserts.length;
  const renumbered = (body: string): string | undefined => {
    const index = Number(body.slice(1)) - 1 - vendor;
    if (index < 0) return body;
    if (index >= record.cuts.length) return `b${vendor + cuts.length + (index - record.cuts.length) + 1}`;
    const still = cuts.findIndex((c) => c.id === record.cuts[index].id);
    return still < 0 ? undefined : `b${vendor + still + 1}`;
  };
  const kept = <T>(list: readonly T[], get: (item: T) => string, set: (item: T, body: string) => T): T[] =>
    list.flatMap((item) => {
      const body = renumbered(get(item));
      return body === undefined ? [] : [set(item, body)];
    });
  return {
    ...record,
    cuts: kept(
      cuts,
      (c) => c.body,
      (c, body) => ({ ...c, body }),
    ),
    inserts: kept(
      record.inserts,
      (n) => n.replaces,
      (n, replaces) => ({ ...n, replaces }),
    ),
    bodies: kept(
      record.bodies,
      (b) => b.id,
      (b, id) => ({ ...b, id }),
    ),
    moves: kept(
      record.moves,
      (m) => m.body,
      (m, body) => ({ ...m, body }),
    ),
    faceColours: kept(
      record.faceColours,
      (c) => c.body,
      (c, body) => ({ ...c, body }),
    ),
  };
}

/**
 * A record whose bodies are brought to other places: tips that were marked on a body go with it. `bodyOfTip` says which body a tip is on, by
 * the tip's id; tips on none stay.
 */
export function withMoves(record: ComponentRecord, moves: readonly BodyMove[], bodyOfTip: Readonly<Record<string, string | undefined>>): ComponentRecord {
  const whole = (list: readonly BodyMove[], body: string): Motion => posedFromFile(list.filter((m) => m.body === body).map((m) => m.step));
  const tips = record.tips.map((t): Tip => {
    const body = bodyOfTip[t.id];
    if (body === undefined) return t;
    const change = compose(whole(moves, body), invert(whole(record.moves, body)));
    const turned = {
      ...t,
      noseCentre: move(change, t.noseCentre),
      ...(t.towards ? { towards: turn(change, t.towards) } : {}),
      ...(t.rake ? { rake: turn(change, t.rake) } : {}),
    };
    return t.towards ? { ...turned, corner: cornerTowards(turn(change, t.towards), mountFrameOf(record)) } : turned;
  });
  return { ...record, moves: [...moves], tips };
}

/** Whether two records ask for the same work on their file, so that one model serves both. */
export function isSameWork(a: Worked, b: Worked): boolean {
  const work = ({ source, cuts, inserts, moves }: Worked) => JSON.stringify([source.blob, source.unitScale, cuts, inserts, moves]);
  return work(a) === work(b);
}
type Worked = Pick<ComponentRecord, 'source' | 'cuts' | 'inserts' | 'moves'>;
