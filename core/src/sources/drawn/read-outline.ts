import { closedLoop, readDrawing, type ReadDrawingOptions, type ReadOutline, readDxf, readPicture, readSvg, readTraced, traceEdge } from '#core/drawing';
import { failed, type Result, say } from '#core/issues';
import { endsOnAxis, type HalfProfile, mirrorProfile } from '#core/outline';
import type { DrawingChoice, DrawingRead, OutlineRecord } from '#core/records';
import { type ConnectionSize, standardDiameter } from '#core/standards';
import { MM_PER_INCH } from '#core/units';

/** What reading a drawing says of an outline. */
export type ReadPart = Pick<OutlineRecord, 'purpose' | 'profile' | 'cutting' | 'mount'> & { readonly read: DrawingRead };

export type DrawingFormat = 'dxf' | 'svg' | 'png' | 'jpg';

/** The kind of drawing or picture that a file is, by its name; undefined for others. */
export function drawingFormatOf(file: string): DrawingFormat | undefined {
  const ending = /\.(dxf|svg|png|jpe?g)$/i.exec(file)?.[1].toLowerCase();
  return ending === 'jpeg' ? 'jpg' : (ending as DrawingFormat | undefined);
}

/** Reads a drawing or a calibrated picture as an outline, as it is chosen. */
export function readOutlineFile(bytes: Uint8Array, file: string, choice: DrawingChoice): Result<ReadOutline> {
  const format = drawingFormatOf(file);
  const options = optionsOf(choice);
  if (format === 'png' || format === 'jpg') {
    const { scale } = choice;
    if (!scale) return failed('picture.no-scale', { file });
    const pixels = Math.hypot(scale.to[0] - scale.from[0], scale.to[1] - scale.from[1]);
    if (!(pixels >= 1) || !(scale.mm > 0)) return failed('picture.bad-scale', { text: `${scale.mm} mm over ${pixels.toFixed(3)} pixels` });
    const picture = readPicture(bytes, file);
    const edge = picture.ok ? traceEdge(picture.value, file) : picture;
    return edge.ok ? readTraced(edge.value, file, scale.mm / pixels, options) : edge;
  }
  const unit = choice.unit === null ? undefined : choice.unit === 'inch' ? MM_PER_INCH : 1;
  const drawing = format === 'svg' ? readSvg(bytes, file, unit) : readDxf(bytes, file, unit);
  return drawing.ok ? readDrawing(drawing.value, file, { ...options, isUnitKnown: unit !== undefined }) : drawing;
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

/** The same as what an outline's record has of it: z runs towards the work there, from the end that is held. */
export function outlinePartOf(read: ReadOutline): ReadPart {
  const { form, profile, cutting, shank, length } = read;
  const turned: HalfProfile = form === 'revolved' ? mirrorProfile(profile.map(closedLoop), length) : profile;
  // What is open towards the work holds something.
  const purpose = form === 'flat' ? 'insert' : endsOnAxis(turned, length) ? 'cutter' : 'holder';
  const diameter = shank && standardDiameter(shank.diameter);
  const mount: ConnectionSize | null = shank ? { standard: 'cylindrical', size: diameter ?? Math.round(shank.diameter * 1000) / 1000 } : null;
  return {
    purpose,
    profile: turned,
    cutting: purpose === 'cutter' ? (cutting ?? { from: 0, to: length }) : null,
    mount,
    read: {
      unit: read.unit,
      unitScale: read.unitScale,
      layers: read.layers.map(({ name, entities, isHidden, used }) => ({ name, entities, isHidden, used })),
      steps: read.steps.map(({ code, message }) => ({ code, message: message.slice(0, 600) })),
      warnings: read.warnings.map((w) => say(w).slice(0, 600)),
      axis: read.axis ? { point: read.axis.point, direction: read.axis.direction } : null,
    },
  };
}
