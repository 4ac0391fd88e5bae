import { type Issue, say } from '#core/issues';
import { writeSolidShape, shapeFileName, type SolidShape } from '#core/outline';
import { type DrawingChoice, hashBytes, newOutline, NO_CHOICE, type OutlineRecord, type OutlineWay } from '#core/records';
import { componentOfOutline, drawingFormatOf, type OutlineFileKind, shapeOfOutline } from '#core/sources';
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
import { keepModel } from './models.ts';
import { keepSheet } from './sheets.ts';

const now = () => new Date().toISOString();
type DrawingWay = Extract<OutlineWay, { kind: 'drawing' }>;

/** Opens a drawing or a picture as a new outline, read by itself. Undefined where it cannot be opened at all. */
export async function openDrawing(bytes: Uint8Array<ArrayBuffer>, fileName: string): Promise<{ kind: 'outline'; id: string } | undefined> {
  const format = drawingFormatOf(fileName);
  if (!format) return undefined;
  const sheet = await readSheet(bytes, fileName, NO_CHOICE, `Opening ${fileName}`);
  if (!sheet) return undefined;
  const blob = hashBytes(bytes);
  void putBlob(bytes, blob).then(({ saved }) => {
    if (!saved) showProblem(`${fileName} is open, but this browser's storage is full: it will be gone when the tab closes.`);
  });
  keepSheet(blob, NO_CHOICE, sheet);
  const way: DrawingWay = { kind: 'drawing', blob, fileName, format, choice: NO_CHOICE, read: null };
  const name = freeName(fileName.replace(/\.[^.]*$/, '') || 'Outline', 'outline');
  const record = { ...newOutline({ id: newId(), name, purpose: 'cutter', way, now: now() }), ...readPart(way, sheet) };
  store.dispatch(recordsChanged(`Opened ${fileName}`, { [record.id]: record }));
  store.dispatch(outlineOpened(record.id));
  return { kind: 'outline', id: record.id };
}

const readSheet = (bytes: Uint8Array, fileName: string, choice: DrawingChoice, title: string): Promise<ReadSheet | undefined> =>
  runShown<ReadSheet>(title, { job: `reading ${fileName}`, limitSeconds: readLimitSeconds(bytes.length) }, (remote) =>
    remote.readDrawing(bytes, fileName, choice),
  );

// What reading says of a record; where nothing was found the reason.
function readPart(way: DrawingWay, { part, issues }: ReadSheet): Partial<OutlineRecord> {
  if (!part)
    return {
      way: { ...way, read: null },
      profile: [],
      byHand: false,
      fault: issues
        .map((i: Issue) => say(i))
        .join(' ')
        .slice(0, 1000),
    };
  const { read, ...rest } = part;
  return { way: { ...way, read }, byHand: false, fault: null, ...rest };
}

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
    const next = readPart({ ...record.way, choice }, sheet);
    // What was said of the outline besides stays where it is still the same kind of thing.
    const isSameKind = next.purpose !== undefined && (next.purpose === 'insert') === (record.purpose === 'insert') && record.profile.length > 0;
    return isSameKind ? { ...next, purpose: record.purpose, cutting: record.purpose === 'holder' ? null : (next.cutting ?? record.cutting) } : next;
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
