import { type Issue, issue, say } from '#core/issues';
import { roundTo, SECTION_NUDGE } from '#core/math';
import type { Surface } from '#core/mesh';
import { loopThrough, rectangleOf, shapeFileName, type SolidShape, writeSolidShape } from '#core/outline';
import { filletCorner, nameCorners, sayWhatIs, type Sketched } from '#core/sketch';
import {
  type ComponentRecord,
  type DrawingChoice,
  freshGeometry,
  freshPlan,
  GEOMETRY_TARGETS,
  hashBytes,
  mountFrameOf,
  newOutline,
  NO_CHOICE,
  type OutlineRecord,
  type OutlineWay,
} from '#core/records';
import {
  axisFrameOf,
  componentOfOutline,
  cutterFor,
  type CutterWish,
  drawingFormatOf,
  extentOf,
  faceDrawing,
  halfSectionDrawing,
  outlineDrawing,
  type OutlineFileKind,
  planeSectionDrawing,
  shapeOfOutline,
  withReading,
} from '#core/sources';
import { type Stack, stackProfile } from '#core/stack';
import { runShown } from '../app/jobs.tsx';
import { recordsChanged } from '../app/library-slice.ts';
import { showIssues, showProblem } from '../app/notify.tsx';
import { componentOpened, outlineOpened } from '../app/session-slice.ts';
import { changeOutline, selectOutline, store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import { saveFile } from '../common/save-file.ts';
import { readLimitSeconds } from '../workers/geometry-client.ts';
import type { ReadSheet, ReopenedModel } from '../workers/geometry.worker.ts';
import { getBlob, putBlob } from './blobs.ts';
import { freeName } from './free-name.ts';
import { keepModel, loadModel } from './models.ts';
import { keepSheet } from './sheets.ts';

const now = () => new Date().toISOString();
type DrawingWay = Extract<OutlineWay, { kind: 'drawing' }>;

/** Opens a drawing or a picture as a new outline, read by itself. Undefined where it cannot be opened at all. */
export async function openDrawing(
  bytes: Uint8Array<ArrayBuffer>,
  fileName: string,
  given: {
    /** How it must be read, where the first look at it says so. */
    readonly choose?: (sheet: ReadSheet) => Partial<DrawingChoice>;
    /** What is known of it besides. */
    readonly know?: (record: OutlineRecord) => Partial<OutlineRecord>;
  } = {},
): Promise<{ kind: 'outline'; id: string } | undefined> {
  const format = drawingFormatOf(fileName);
  if (!format) return undefined;
  const title = `Opening ${fileName}`;
  const first = await readSheet(bytes, fileName, NO_CHOICE, title);
  if (!first) return undefined;
  const choice = { ...NO_CHOICE, ...given.choose?.(first) };
  const isAsFound = JSON.stringify(choice) === JSON.stringify(NO_CHOICE);
  const sheet = isAsFound ? first : await readSheet(bytes, fileName, choice, title);
  if (!sheet) return undefined;
  const blob = hashBytes(bytes);
  void putBlob(bytes, blob).then(({ saved }) => {
    if (!saved) showProblem(`${fileName} is open, but this browser's storage is full: it will be gone when the tab closes.`);
  });
  keepSheet(blob, choice, sheet);
  const way: DrawingWay = { kind: 'drawing', blob, fileName, format, choice, read: null };
  const name = freeName(fileName.replace(/\.[^.]*$/, '') || 'Outline', 'outline');
  const blank = newOutline({ id: newId(), name, purpose: 'cutter', way, now: now() });
  const made = sheet.part ? withReading(blank, choice, sheet.part) : { ...blank, ...notFound(way, sheet.issues) };
  const record = { ...made, ...given.know?.(made) };
  store.dispatch(recordsChanged(`Opened ${fileName}`, { [record.id]: record }));
  store.dispatch(outlineOpened(record.id));
  return { kind: 'outline', id: record.id };
}

const readSheet = (bytes: Uint8Array, fileName: string, choice: DrawingChoice, title: string): Promise<ReadSheet | undefined> =>
  runShown<ReadSheet>(title, { job: `reading ${fileName}`, limitSeconds: readLimitSeconds(bytes.length) }, (remote) =>
    remote.readDrawing(bytes, fileName, choice),
  );

// Of a drawing in which no outline was found: the reason.
const notFound = (way: DrawingWay, issues: readonly Issue[]): Partial<OutlineRecord> => ({
  way: { ...way, read: null },
  profile: [],
  sketch: null,
  byHand: false,
  fault: issues.map(say).join(' ').slice(0, 1000),
});

/** Reads an outline's drawing again with another choice, as one step of the history. */
export async function chooseReading(id: string, label: string, change: Partial<DrawingChoice>): Promise<void> {
  const before = selectOutline(store.getState(), id);
  if (before?.way.kind !== 'drawing') return;
  const { way } = before;
  const choice = { ...way.choice, ...change };
  const bytes = await getBlob(way.blob);
  if (!bytes) return showProblem(`${way.fileName} is not in this browser's storage any more. Open it again.`);
  const sheet = await readSheet(bytes, way.fileName, choice, `${label}: ${way.fileName}`);
  if (!sheet) return;
  keepSheet(way.blob, choice, sheet);
  changeOutline(id, label, (record) => {
    if (record.way.kind !== 'drawing') return {};
    return sheet.part ? withReading(record, choice, sheet.part) : notFound({ ...record.way, choice }, sheet.issues);
  });
}

/** A new outline of typed numbers. */
export function newStack(name: string, purpose: OutlineRecord['purpose'], stack: Stack): string {
  const id = newId();
  const record = { ...newOutline({ id, name: freeName(name, 'outline'), purpose, way: { kind: 'stack', stack }, now: now() }) };
  store.dispatch(recordsChanged(`New ${purpose}`, { [id]: { ...record, ...stackPart(record, stack) } }));
  store.dispatch(outlineOpened(id));
  return id;
}

/** A new outline to be drawn: a shank with a head, to be pulled into shape. */
export function newDrawn(name: string): string {
  const id = newId();
  const profile = [
    loopThrough([
      [0, 0],
      [60, 0],
      [60, 8],
      [45, 8],
      [45, 6],
      [0, 6],
    ]),
  ];
  const record: OutlineRecord = {
    ...newOutline({ id, name: freeName(name, 'outline'), purpose: 'cutter', way: { kind: 'drawn' }, now: now() }),
    profile,
    sketch: sayWhatIs({ profile, sketch: nameCorners(profile) }, true).sketch,
    cutting: { from: 0, to: 15 },
    mount: { standard: 'cylindrical', size: 12 },
    byHand: true,
  };
  store.dispatch(recordsChanged('New outline', { [id]: record }));
  store.dispatch(outlineOpened(id));
  return id;
}

/** A new insert to be drawn, seen from above: a square with a nose at each corner. */
export function newDrawnInsert(name: string): string {
  const id = newId();
  const square = [rectangleOf([-6.35, -6.35], [6.35, 6.35])];
  let made: Sketched = { profile: square, sketch: nameCorners(square) };
  for (const corner of made.sketch.names[0]) {
    const rounded = filletCorner(made, corner, 0.8);
    if (rounded.ok) made = rounded.value;
  }
  const { profile, sketch } = sayWhatIs(made, false);
  const blank = newOutline({ id, name: freeName(name, 'outline'), purpose: 'insert', way: { kind: 'drawn' }, now: now() });
  store.dispatch(
    recordsChanged('New outline', { [id]: { ...blank, profile, sketch, byHand: true, insert: { ...blank.insert, hole: { at: [0, 0], diameter: 5.16 } } } }),
  );
  store.dispatch(outlineOpened(id));
  return id;
}

/** Changes a typed outline's numbers; what cannot be is said in the record and keeps what was drawn last. */
export const changeStack = (id: string, label: string, change: (stack: Stack) => Stack): void =>
  changeOutline(id, label, (record) => {
    if (record.way.kind !== 'stack') return {};
    const stack = change(record.way.stack);
    return { way: { kind: 'stack', stack }, ...stackPart(record, stack) };
  });

function stackPart(record: OutlineRecord, stack: Stack): Partial<OutlineRecord> {
  const made = stackProfile(stack);
  if (!made.ok) return { fault: say(made.issues[0]).slice(0, 1000) };
  const { profile, mount, seat, places } = made.value;
  // A cutter's last segment cuts until somebody says otherwise.
  const last = places.at(-1);
  const cutting = record.purpose === 'cutter' ? (record.cutting ?? (last ? { from: 0, to: last.to - last.from } : null)) : null;
  return { profile, fault: null, byHand: false, mount, seat: seat && { ...seat.connection, z: seat.z }, cutting };
}

/** The model of a shape, made in the worker and kept; undefined where it cannot be or was stopped. */
export async function makeShapeModel(shape: SolidShape, name: string): Promise<ReopenedModel | undefined> {
  const made = await runShown<ReopenedModel>(`Making ${name}`, { job: `making ${name}`, limitSeconds: 90 }, (remote) =>
    remote.modelOfShape(writeSolidShape(shape), shapeFileName(name)),
  );
  if (made) {
    keepModel(made.blob, made.model);
    await putBlob(made.model, made.blob);
  }
  return made;
}

/** Makes a component of an outline and puts it on the Shelf. */
export async function makeComponent(id: string): Promise<string | undefined> {
  const outline = selectOutline(store.getState(), id);
  if (!outline) return undefined;
  const shape = shapeOfOutline(outline);
  if (!shape.ok) {
    showIssues(`Making ${outline.name}`, shape.issues);
    return undefined;
  }
  const made = await makeShapeModel(shape.value, outline.name);
  if (!made) return undefined;
  const given = { id: newId(), now: now(), modelBlob: made.blob };
  const component = { ...componentOfOutline(outline, shape.value, given, made.made), name: freeName(outline.name, 'component') };
  store.dispatch(recordsChanged(`${outline.name} on the Shelf`, { [component.id]: component }));
  store.dispatch(componentOpened(component.id));
  return component.id;
}

const TYPES: Record<OutlineFileKind, string> = {
  step: 'model/step',
  stl: 'model/stl',
  glb: 'model/gltf-binary',
  '3mf': 'model/3mf',
  dxf: 'image/vnd.dxf',
  svg: 'image/svg+xml',
  json: 'application/json',
};

/** Writes an outline as a file and hands it over as a download. */
export async function saveOutline(outline: OutlineRecord, kind: OutlineFileKind): Promise<void> {
  const bytes = await runShown<Uint8Array<ArrayBuffer>>(`Writing ${outline.name}`, { job: `writing ${outline.name}`, limitSeconds: 90 }, (remote) =>
    remote.writeOutline(outline, kind),
  );
  if (bytes) saveFile(`${outline.name}.${kind}`, bytes, TYPES[kind]);
}

/** What of a component can be opened as an outline: as it is marked and made, or at a face that was picked. */
export type PartOutline = 'half section' | 'section' | 'profile' | 'plan cutting' | 'plan non-cutting' | 'face' | 'half section about the face';

/** A face of a component's model. */
export interface FaceRef {
  readonly body: string;
  readonly index: number;
}

/** What there is of it now: sections where a mount says where; profile and plan where they were made; and of a picked face what it is. */
export function partOutlinesOf(record: ComponentRecord, face?: { readonly surface: Surface }): PartOutline[] {
  const plan = freshPlan(record);
  const profile = GEOMETRY_TARGETS.some((t) => freshGeometry(record, t)?.profile);
  const isRound = face !== undefined && face.surface.kind !== 'plane' && face.surface.kind !== 'free' && face.surface.kind !== 'sphere';
  return [
    ...(face?.surface.kind === 'plane' ? (['face'] as const) : []),
    ...(isRound ? (['half section about the face'] as const) : []),
    ...(record.mount ? (['half section', 'section'] as const) : []),
    ...(profile ? (['profile'] as const) : []),
    ...(plan?.parts ?? []).map((p): PartOutline => `plan ${p.target}`),
  ];
}

/** Opens a section of a component, the profile of its envelope or its plan as an outline of its own: as a drawing, with its steps. */
export async function openPartOutline(record: ComponentRecord, what: PartOutline, face?: FaceRef): Promise<string | undefined> {
  const text = await partDrawing(record, what, face);
  if (text === undefined) {
    showIssues(`The ${what} of ${record.name}`, [issue('outline.no-section', { name: record.name, text: NOTHING[what] ?? 'no face is about that axis' })]);
    return undefined;
  }
  const isTurned = what === 'half section' || what === 'profile' || what === 'half section about the face';
  // About another axis nothing is known of its mount.
  const mount = what === 'half section about the face' ? null : record.mount;
  const opened = await openDrawing(new TextEncoder().encode(text), `${record.name.replace(/[\\/:]/g, '-')}, ${what}.dxf`, {
    // The drawing's x is the mount's Z: the work lies where that points.
    choose: ({ part }) => (isTurned ? { form: 'revolved', flip: (part?.read.axis?.direction[0] ?? -1) > 0 } : { form: 'flat' }),
    know: ({ profile, insert, way, cutting }) => {
      const tip = way.kind === 'drawing' ? way.read?.axis?.point[0] : undefined;
      if (!isTurned || !mount || tip === undefined) return { insert: { ...insert, reliefDeg: 0 } };
      const purpose = record.bodies.some((b) => b.role === 'cutting') ? 'cutter' : 'holder';
      return { mount: mount.connection, mountZ: roundTo(extentOf(profile).high - tip, 6), purpose, cutting: purpose === 'cutter' ? cutting : null };
    },
  });
  return opened?.id;
}

const NOTHING: Partial<Record<PartOutline, string>> = { section: 'the plane cuts no body', face: 'the face is not flat' };

async function partDrawing(record: ComponentRecord, what: PartOutline, picked?: FaceRef): Promise<string | undefined> {
  if (what === 'profile') {
    const profile = GEOMETRY_TARGETS.map((t) => freshGeometry(record, t)?.profile).find((p) => p !== undefined);
    return profile && outlineDrawing(profile, true);
  }
  if (what === 'plan cutting' || what === 'plan non-cutting') {
    const part = freshPlan(record)?.parts.find((p) => what === `plan ${p.target}`);
    return (
      part &&
      outlineDrawing(
        part.loops.map((l) => l.pieces),
        false,
      )
    );
  }
  const model = await loadModel(record.model.blob);
  if (what === 'face' || what === 'half section about the face') {
    const body = model?.bodies.find((b) => b.id === picked?.body);
    if (!model || !body || !picked) return undefined;
    if (what === 'face') return faceDrawing(body, picked.index, record.mount ? mountFrameOf(record).z : [1, 0, 0]);
    const frame = axisFrameOf(body.faces[picked.index]);
    const shown = model.bodies.filter((b) => record.bodies.find((e) => e.id === b.id)?.role !== 'left out');
    return frame && halfSectionDrawing(shown, frame);
  }
  const bodies = model?.bodies.filter((b) => ['tool body', 'cutting'].includes(record.bodies.find((e) => e.id === b.id)?.role ?? '')) ?? [];
  const frame = mountFrameOf(record);
  return what === 'section' ? planeSectionDrawing(bodies, frame, SECTION_NUDGE) : halfSectionDrawing(bodies, frame);
}

/** Makes a cutter that leaves a turned outline's outside, as an outline of its own. */
export async function makeCutterFor(outline: OutlineRecord, wish: CutterWish): Promise<string | undefined> {
  const made = cutterFor(outline.profile, wish);
  if (!made.ok) {
    showIssues(`A cutter for ${outline.name}`, made.issues);
    return undefined;
  }
  const opened = await openDrawing(new TextEncoder().encode(outlineDrawing(made.value, true)), `Cutter for ${outline.name.replace(/[\\/:]/g, '-')}.dxf`);
  if (!opened) return undefined;
  changeOutline(opened.id, 'What it cuts with', () => ({
    cutting: { from: 0, to: wish.to - wish.from },
    mount: { standard: 'cylindrical', size: wish.shank.diameter },
  }));
  return opened.id;
}
