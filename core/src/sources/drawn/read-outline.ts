import { closedLoop, readDrawing, type ReadDrawingOptions, type ReadOutline, readDxf, readPicture, readSvg, readTraced, traceEdge } from '#core/drawing';
import { done, failed, type Issue, type Result, say } from '#core/issues';
import { endsOnAxis, type FlatPoint, type HalfProfile, mirrorProfile } from '#core/outline';
import type { DrawingChoice, DrawingRead, OutlineRecord } from '#core/records';
import { type ConnectionSize, standardDiameter } from '#core/standards';
import { MM_PER_INCH } from '#core/units';
import { extentOf } from './outline-facts.ts';
import { type DrawingGhost, ghostOf, mapFlat } from './sheet.ts';

/** What reading a drawing says of an outline. */
export type ReadPart = Pick<OutlineRecord, 'purpose' | 'profile' | 'cutting' | 'mount'> & { readonly read: DrawingRead };

export type DrawingFormat = 'dxf' | 'svg' | 'png' | 'jpg';

/** The kind of drawing or picture that a file is, by its name; undefined for others. */
export function drawingFormatOf(file: string): DrawingFormat | undefined {
  const ending = /\.(dxf|svg|png|jpe?g)$/i.exec(file)?.[1].toLowerCase();
  return ending === 'jpeg' ? 'jpg' : (ending as DrawingFormat | undefined);
}

/** A drawing with what was read of it; `read` says why where that is nothing. */
export interface SheetReading {
  readonly read: Result<ReadOutline>;
  readonly ghost: DrawingGhost;
  /** Where what is wrong is, in the sheet's mm. */
  readonly places: readonly FlatPoint[];
  /** Of a picture. */
  readonly size?: { readonly width: number; readonly height: number };
}

/** Reads a drawing or a calibrated picture as an outline, as it is chosen. */
export function readOutlineFile(bytes: Uint8Array, file: string, choice: DrawingChoice): Result<ReadOutline> {
  const sheet = readForSheet(bytes, file, choice);
  return sheet.ok ? sheet.value.read : sheet;
}

/** The same with what lies under it on the sheet, also where no outline is found; refused is only what cannot be opened. */
export function readForSheet(bytes: Uint8Array, file: string, choice: DrawingChoice): Result<SheetReading> {
  const format = drawingFormatOf(file);
  if (format === 'png' || format === 'jpg') return readPictureSheet(bytes, file, choice);
  const unit = choice.unit === null ? undefined : choice.unit === 'inch' ? MM_PER_INCH : 1;
  const drawing = format === 'svg' ? readSvg(bytes, file, unit) : readDxf(bytes, file, unit);
  if (!drawing.ok) return drawing;
  const read = readDrawing(drawing.value, file, { ...optionsOf(choice), isUnitKnown: unit !== undefined });
  const ghost = ghostOf(drawing.value, read.ok ? read.value : undefined);
  return done({ read, ghost, places: read.ok ? [] : placesOf(read.issues).map((p) => mapFlat(ghost.sheetFromFile, p)) });
}

// The places that issues name, in the file's own coordinates.
const placesOf = (issues: readonly Issue[]): FlatPoint[] =>
  issues.flatMap(({ values }) =>
    [values.from, values.to].flatMap((text): FlatPoint[] => {
      const [x, y] = String(text ?? '')
        .split(',')
        .map(Number);
      return Number.isFinite(x) && Number.isFinite(y) ? [[x, y]] : [];
    }),
  );

function readPictureSheet(bytes: Uint8Array, file: string, choice: DrawingChoice): Result<SheetReading> {
  const picture = readPicture(bytes, file);
  if (!picture.ok) return picture;
  const { width, height } = picture.value;
  const pixels = choice.scale && Math.hypot(choice.scale.to[0] - choice.scale.from[0], choice.scale.to[1] - choice.scale.from[1]);
  const edge = choice.scale ? traceEdge(picture.value, file) : undefined;
  const read = ((): Result<ReadOutline> => {
    if (!choice.scale || pixels === null) return failed('picture.no-scale', { file });
    const { mm } = choice.scale;
    if (!(pixels >= 1) || !(mm > 0)) return failed('picture.bad-scale', { text: `${mm} mm over ${pixels.toFixed(3)} pixels` });
    if (!edge) return failed('picture.no-scale', { file });
    return edge.ok ? readTraced(edge.value, file, mm / pixels, optionsOf(choice)) : edge;
  })();
  const unitScale = choice.scale && pixels ? choice.scale.mm / pixels : 1;
  // The picture's own edge, to be felt where it is drawn over.
  const points = edge?.ok ? edge.value.points.map(([x, y]): FlatPoint => [x * unitScale, y * unitScale]) : [];
  const drawn = points.map((from, i) => ({
    piece: { kind: 'line' as const, from, to: points[(i + 1) % points.length] },
    layer: 0,
    entity: 0,
    isCurve: true,
    isCentreLine: false,
  }));
  const ghost = ghostOf({ drawn, origin: [0, 0], unitScale, isUpsideDown: true }, read.ok ? read.value : undefined);
  return done({ read, ghost, places: [], size: { width, height } });
}

const optionsOf = ({ layers, form, bridge, tolerance, flip, axis, at }: DrawingChoice): ReadDrawingOptions => ({
  ...(layers ? { layers } : {}),
  ...(form ? { form } : {}),
  ...(bridge === null ? {} : { bridge }),
  ...(tolerance === null ? {} : { tolerance }),
  ...(axis ? { axis } : {}),
  ...(at ? { at } : {}),
  flip,
});

// Share of the diameter that a front may be hollow by, and is no bore.
const FRONT = 0.1;

/** The same as what an outline's record has of it: z runs towards the work there, from the end that is held. */
export function outlinePartOf(read: ReadOutline): ReadPart {
  const { form, profile, cutting, shank, length } = read;
  const turned: HalfProfile = form === 'revolved' ? mirrorProfile(profile.map(closedLoop), length) : profile;
  // What is open towards the work holds something.
  const purpose = form === 'flat' ? 'insert' : endsOnAxis(turned, length, FRONT * read.largestDiameter) ? 'cutter' : 'holder';
  const cuts = purpose === 'cutter' ? (cutting ?? { from: 0, to: length }) : null;
  const diameter = shank && standardDiameter(shank.diameter);
  const mount: ConnectionSize | null = shank ? { standard: 'cylindrical', size: diameter ?? Math.round(shank.diameter * 1000) / 1000 } : null;
  return {
    purpose,
    profile: turned,
    cutting: cuts,
    mount,
    read: {
      unit: read.unit,
      unitScale: read.unitScale,
      layers: read.layers.map(({ name, entities, isHidden, used }) => ({ name, entities, isHidden, used })),
      steps: read.steps.map(({ code, message }) => ({ code, message: message.slice(0, 600) })),
      warnings: read.warnings.map((w) => say(w).slice(0, 600)),
      axis: read.axis ? { point: read.axis.point, direction: read.axis.direction } : null,
      mount,
      cutting: cuts,
    },
  };
}

/** An outline whose drawing was read anew: what was said of it by hand stays where it is still the same kind of thing. */
export function withReading(before: OutlineRecord, choice: DrawingChoice, { read, ...found }: ReadPart): OutlineRecord {
  const { way } = before;
  if (way.kind !== 'drawing') throw new Error(`read-outline.withReading: an outline from a drawing; got ${way.kind}`);
  const next: OutlineRecord = { ...before, ...found, way: { ...way, choice, read }, byHand: false, sketch: null, fault: null };
  const isSameKind = way.read !== null && (found.purpose === 'insert') === (before.purpose === 'insert');
  if (!isSameKind || !way.read) return next;
  const isSaid = (now: unknown, then: unknown) => JSON.stringify(now) !== JSON.stringify(then);
  const { low, high } = extentOf(found.profile);
  // Turned end for end, the plane is as far from the other end.
  const mountZ = choice.flip === way.choice.flip || before.mountZ === 0 ? before.mountZ : high - low - before.mountZ;
  return {
    ...next,
    purpose: before.purpose,
    mount: isSaid(before.mount, way.read.mount) ? before.mount : found.mount,
    mountZ,
    cutting: before.purpose !== 'cutter' ? null : isSaid(before.cutting, way.read.cutting) ? before.cutting : (found.cutting ?? before.cutting),
  };
}
