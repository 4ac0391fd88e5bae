import { useEffect, useMemo, useState } from 'react';
import type { AssemblyRecord, ComponentRecord, ShelvedRecord } from '#core/records';
import { selectComponentsById, useAppSelector } from '../app/store.ts';
import { ShapePicture } from './shape-picture.tsx';
import { OutlinePicture } from './outline-picture.tsx';

/** A record as a picture: of an outline its drawing, else the model; what data makes is drawn until its model is. */
export const RecordPicture = ({ record }: { record: ShelvedRecord }) =>
  record.kind === 'outline' ? <OutlinePicture outline={record} /> : <ModelPicture record={record} />;

/** The same as a small drawing where there is one: at once, and without a model. */
export function SmallPicture({ record }: { record: ShelvedRecord }) {
  if (record.kind === 'outline') return <OutlinePicture outline={record} />;
  if (record.kind === 'component' && record.source.kind !== 'file') return <ShapePicture shape={record.source.shape} />;
  return <ModelPicture record={record} />;
}

function ModelPicture({ record }: { record: ComponentRecord | AssemblyRecord }) {
  const components = useAppSelector(selectComponentsById);
  const [url, setUrl] = useState<string | undefined>();
  // Of an assembly the pieces' components count too; others may change.
  const shown = useMemo(() => (record.kind === 'component' ? [record] : record.pieces.map((p) => components[p.componentId])), [record, components]);
  const key = shown.map((c) => c?.changedAt).join();
  useEffect(() => {
    let live = true;
    let made: string | undefined;
    // three.js comes with the first picture, not with the page.
    void import('./pictures.ts')
      .then(({ pictureOf, pictureOfAssembly }) =>
        record.kind === 'component' ? pictureOf(record, () => live) : pictureOfAssembly(record, components, () => live),
      )
      .then((u) => {
        made = u;
        if (live) setUrl(u);
        else if (u) URL.revokeObjectURL(u);
      });
    return () => {
      live = false;
      if (made) URL.revokeObjectURL(made);
    };
    // biome-ignore lint: the key stands for the components
  }, [record, key]); // oxlint-disable-line react/exhaustive-deps
  if (url) return <img src={url} alt="" />;
  return record.kind === 'component' && record.source.kind !== 'file' ? <ShapePicture shape={record.source.shape} /> : <span className="picture-wait" />;
}
