import {
  type AnyRecord,
  ASSEMBLY_VERSION,
  type ShelvedRecord,
  type AssemblyRecord,
  type ComponentRecord,
  isSameWork,
  isZip,
  withModel,
  ON_MASTER,
  withComponentIds,
} from '#core/records';
import { runShown } from '../app/jobs.tsx';
import { recordsChanged } from '../app/library-slice.ts';
import { showDone, showIssues, showProblem, showWarnings } from '../app/notify.tsx';
import { componentOpened, newcomerBegan } from '../app/session-slice.ts';
import { changeComponent, selectComponent, store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import { readLimitSeconds } from '../workers/geometry-client.ts';
import type { OpenedModel, ReopenedModel } from '../workers/geometry.worker.ts';
import type { OpenedPackageModels, OpenedSetUpRecords } from '../workers/package-jobs.ts';
import { tableText } from '#core/components';
import { issue } from '#core/issues';
import { isShelfFile } from '#core/shelf';
import { drawingFormatOf, isArchive } from '#core/sources';
import { openShelfFile } from './shelf-file-actions.ts';
import { putBlob } from './blobs.ts';
import { keepModel, loadModel } from './models.ts';
import { freeName } from './free-name.ts';
import { filesOfArchive } from './open-archive.ts';
import { offerMerge } from './open-merge.ts';
import { openTable } from './open-table.ts';
import { openDrawing } from './outline-actions.ts';
import { readingOf } from './readings.ts';
import { sayPieces } from '../common/count-of.ts';
import { sourceBytes } from './source-bytes.ts';

const now = () => new Date().toISOString();

/** What opening files led to, so that the caller can go there. */
export type Opened = { readonly kind: 'component' | 'assembly' | 'outline' | 'table' | 'shelf'; readonly id: string };

/** Opens dropped or chosen files one after the other: models and packages. Others are refused by what they are. */
export async function openFiles(files: readonly File[]): Promise<Opened | undefined> {
  const last = await openAll(files);
  if (last) store.dispatch(newcomerBegan());
  return last;
}

async function openAll(files: readonly File[]): Promise<Opened | undefined> {
  let last: Opened | undefined;
  for (const file of files) last = (await openFile(file)) ?? last;
  return last;
}

const LARGEST_FILE_MB = 400;

async function openFile(file: File): Promise<Opened | undefined> {
  const title = `Opening ${file.name}`;
  if (file.size > LARGEST_FILE_MB * 1e6) {
    showIssues(title, [issue('file.too-large', { file: file.name, megabytes: Math.round(file.size / 1e6), limit: LARGEST_FILE_MB })]);
    return undefined;
  }
  let bytes: Uint8Array<ArrayBuffer>;
  try {
    bytes = new Uint8Array(await file.arrayBuffer());
  } catch (error) {
    showProblem(`${file.name} could not be read from the disk: ${error instanceof Error ? error.message : String(error)}`);
    return undefined;
  }
  if (/\.(csv|tsv|txt)$/i.test(file.name)) {
    openTable({ fileName: file.name, text: tableText(bytes) });
    return { kind: 'table', id: 'table' };
  }
  if (/\.webp$/i.test(file.name)) return openWebp(bytes, file.name);
  if (drawingFormatOf(file.name)) return openDrawing(bytes, file.name);
  if (isArchive(bytes, file.name)) return openAll(await filesOfArchive(bytes, file.name));
  if (isZip(bytes) && isShelfFile(bytes)) return (await openShelfFile(bytes, file.name)) ? { kind: 'shelf', id: '' } : undefined;
  return isZip(bytes) && !/\.(step|stp|3mf)$/i.test(file.name) ? openPackageFile(bytes, file.name) : openModelFile(bytes, file.name);
}

// What browsers read and our own reader does not: taken over as PNG, pixel by pixel.
async function openWebp(bytes: Uint8Array<ArrayBuffer>, fileName: string): Promise<Opened | undefined> {
  try {
    const bitmap = await createImageBitmap(new Blob([bytes], { type: 'image/webp' }));
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    canvas.getContext('2d')?.drawImage(bitmap, 0, 0);
    const png = await canvas.convertToBlob({ type: 'image/png' });
    return await openDrawing(new Uint8Array(await png.arrayBuffer()), fileName.replace(/\.webp$/i, '.png'));
  } catch (error) {
    showIssues(`Opening ${fileName}`, [issue('picture.broken', { file: fileName, text: error instanceof Error ? error.message : String(error) })]);
    return undefined;
  }
}

async function openModelFile(bytes: Uint8Array<ArrayBuffer>, fileName: string): Promise<Opened | undefined> {
  const id = newId();
  const opened = await runShown<OpenedModel>(
    `Opening ${fileName}`,
    { job: `opening ${fileName}`, limitSeconds: readLimitSeconds(bytes.length) },
    (remote, progress) => remote.openModel(bytes, fileName, id, now(), progress),
  );
  if (!opened) return undefined;
  // Reading begins while the model is drawn.
  const { blob } = opened.record.model;
  void readingOf(blob, () => loadModel(blob));
  keepModel(blob, opened.model);
  // Nor does it wait for being stored.
  void Promise.all([putBlob(bytes, opened.record.source.blob), putBlob(opened.model, blob)]).then((stored) => {
    if (stored.some((s) => !s.saved))
      showProblem(`${fileName} is open, but this browser's storage is full: it will be gone when the tab closes. Remove something, or write a package.`);
  });
  const record = { ...opened.record, name: freeName(opened.record.name, 'component') };
  store.dispatch(recordsChanged(`Opened ${fileName}`, { [id]: record }));
  store.dispatch(componentOpened(id));
  showWarnings(`${fileName}: look at this`, opened.warnings);
  return { kind: 'component', id };
}

/**
 * Changes what is done to a component's file when it is opened (unit, cuts): opens it again and takes the change with its new model as one
 * step of the history. What was marked meanwhile stays. False where it failed or was stopped; nothing has changed then.
 */
export async function reworkComponent(id: string, label: string, change: (record: ComponentRecord) => ComponentRecord): Promise<boolean> {
  const before = selectComponent(store.getState(), id);
  if (!before) return false;
  const { fileName } = before.source;
  const bytes = await sourceBytes(before);
  if (!bytes) return false;
  const opened = await runShown<ReopenedModel>(
    `${label}: ${fileName}`,
    { job: `working on ${fileName}`, limitSeconds: readLimitSeconds(bytes.length) },
    (remote, progress) => remote.reopen(change(before), bytes, progress),
  );
  if (!opened) return false;
  const current = selectComponent(store.getState(), id);
  if (!current || !isSameWork(current, before)) {
    showProblem(`${label} was left: ${current ? 'the unit or the cuts of' : ''} ${before.name} ${current ? 'have changed' : 'was deleted'} meanwhile.`);
    return false;
  }
  await putBlob(opened.model, opened.blob);
  changeComponent(id, label, (record) => withModel(change(record), record, opened.made, opened.blob));
  showWarnings(`${fileName}: look at this`, opened.warnings);
  return true;
}

async function openPackageFile(bytes: Uint8Array<ArrayBuffer>, fileName: string): Promise<Opened | undefined> {
  const opened = await runShown<OpenedPackageModels | OpenedSetUpRecords>(
    `Opening ${fileName}`,
    { job: `opening ${fileName}`, limitSeconds: 120 + readLimitSeconds(bytes.length) },
    (remote, progress) => remote.openPackage(bytes, fileName, progress),
  );
  if (!opened) return undefined;
  if (opened.kind === 'set-up') {
    offerMerge({ from: fileName, records: opened.records, blobs: opened.blobs, faults: [] });
    return { kind: 'shelf', id: '' };
  }
  // New ids: what is on the Shelf already stays as it is.
  const ids = new Map([...Object.keys(opened.components), ...Object.keys(opened.outlines)].map((id) => [id, newId()]));
  const after: Record<string, AnyRecord> = {};
  for (const bytes of Object.values(opened.drawings)) await putBlob(bytes);
  for (const [oldId, outline] of Object.entries(opened.outlines)) {
    const id = ids.get(oldId) as string;
    after[id] = { ...outline, id, name: freeName(outline.name, 'outline') };
  }
  for (const [oldId, record] of Object.entries(opened.components)) {
    await putBlob(opened.sources[oldId], record.source.blob);
    await putBlob(opened.models[oldId], record.model.blob);
    const id = ids.get(oldId) as string;
    const { source } = record;
    after[id] = { ...record, id, source: source.kind === 'outline' ? { ...source, outline: ids.get(source.outline) ?? source.outline } : source };
  }
  const id = newId();
  after[id] = { ...withComponentIds(opened.assembly, (of) => ids.get(of) ?? of), id, name: freeName(opened.assembly.name, 'assembly') };
  store.dispatch(recordsChanged(`Opened ${fileName}`, after));
  showDone(`${opened.assembly.name}: ${sayPieces(opened.assembly)} opened`);
  return { kind: 'assembly', id };
}

export function duplicateRecord(record: ShelvedRecord): void {
  const copy = { ...record, id: newId(), name: freeName(record.name, record.kind, record.shelf.set), createdAt: now(), changedAt: now() };
  store.dispatch(recordsChanged(`Duplicated ${record.name}`, { [copy.id]: copy }));
}

/** Deletes a record; a component that an assembly uses is kept, with the reason. */
export function deleteRecord(record: AnyRecord): boolean {
  const users = Object.values(store.getState().library.records).filter((r) => r.kind === 'assembly' && r.pieces.some((p) => p.componentId === record.id));
  if (users.length > 0) {
    showProblem(`${record.name} stays: ${users.map((u) => u.name).join(', ')} ${users.length > 1 ? 'use' : 'uses'} it. Take it out there first.`);
    return false;
  }
  store.dispatch(recordsChanged(`Deleted ${record.name}`, { [record.id]: null }));
  return true;
}

export function renameRecord(record: AnyRecord, name: string): void {
  const trimmed = name.trim().slice(0, 200);
  if (trimmed && trimmed !== record.name)
    store.dispatch(recordsChanged(`Renamed ${record.name} to ${trimmed}`, { [record.id]: { ...record, name: trimmed, changedAt: now() } }));
}

/** A new assembly that begins with a component. */
export function startAssembly(component: ComponentRecord): string {
  const id = newId();
  const assembly: AssemblyRecord = {
    kind: 'assembly',
    version: ASSEMBLY_VERSION,
    id,
    name: freeName(`${component.name} assembly`, 'assembly', component.shelf.set),
    pieces: [{ id: newId(), componentId: component.id, parent: null, stickOut: 0, rollDeg: 0 }],
    edges: [],
    // Beside what it begins with.
    shelf: { ...ON_MASTER, set: component.shelf.set },
    createdAt: now(),
    changedAt: now(),
  };
  store.dispatch(recordsChanged(`New assembly from ${component.name}`, { [id]: assembly }));
  return id;
}
