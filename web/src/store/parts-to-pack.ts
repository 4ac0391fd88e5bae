import { type AssemblyRecord, type ComponentRecord, freshGeometry, type OutlineRecord } from '#core/records';
import { selectComponent, selectOutline, store } from '../app/store.ts';
import { showProblem } from '../app/notify.tsx';
import { getBlob } from './blobs.ts';
import { sourceBytes } from './source-bytes.ts';

/** What packages of assemblies are made of. */
export interface PartsToPack {
  readonly components: Record<string, ComponentRecord>;
  readonly sources: Record<string, Uint8Array>;
  readonly outlines: readonly OutlineRecord[];
  readonly drawings: Record<string, Uint8Array>;
  readonly blobs: Record<string, Uint8Array>;
}

/** Gathers the components of assemblies with their files and the geometry that is made; undefined, and said, where a file is gone. */
export async function partsToPack(assemblies: readonly AssemblyRecord[]): Promise<PartsToPack | undefined> {
  const components: Record<string, ComponentRecord> = {};
  const sources: Record<string, Uint8Array> = {};
  const blobs: Record<string, Uint8Array> = {};
  const outlines: OutlineRecord[] = [];
  const drawings: Record<string, Uint8Array> = {};
  for (const id of new Set(assemblies.flatMap((a) => a.pieces.map((p) => p.componentId)))) {
    const component = selectComponent(store.getState(), id);
    const bytes = component && (await sourceBytes(component));
    if (!component || !bytes) {
      showProblem(
        `${component ? `The file of ${component.name}` : 'A component'} is not in this browser any more, so there is nothing to pack it from. Open it again.`,
      );
      return undefined;
    }
    components[id] = component;
    sources[id] = bytes;
    const outline = component.source.kind === 'outline' ? selectOutline(store.getState(), component.source.outline) : undefined;
    if (outline && !outlines.includes(outline)) outlines.push(outline);
    const drawing = outline?.way.kind === 'drawing' ? await getBlob(outline.way.blob) : undefined;
    if (drawing && outline?.way.kind === 'drawing') drawings[outline.way.blob] = drawing;
    for (const target of ['non-cutting', 'cutting'] as const) {
      const made = freshGeometry(component, target);
      const mesh = made && (await getBlob(made.blob));
      if (mesh) blobs[made.blob] = mesh;
    }
  }
  return { components, sources, outlines, drawings, blobs };
}
