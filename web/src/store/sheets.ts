import { useEffect, useState } from 'react';
import type { DrawingChoice, OutlineRecord } from '#core/records';
import { geometryClient, readLimitSeconds } from '../workers/geometry-client.ts';
import type { ReadSheet } from '../workers/geometry.worker.ts';
import { getBlob } from './blobs.ts';

// Drawings as they lie on the sheet, by file and choice: what is looked at last stays.
const MOST_SHEETS = 6;
const sheets = new Map<string, ReadSheet>();
const keyOf = (blob: string, choice: DrawingChoice): string => `${blob} ${JSON.stringify(choice)}`;

export function keepSheet(blob: string, choice: DrawingChoice, sheet: ReadSheet): void {
  sheets.set(keyOf(blob, choice), sheet);
  const [oldest] = sheets.keys();
  if (sheets.size > MOST_SHEETS) sheets.delete(oldest);
}

/** What lies under an outline on its sheet; read again where it is not there any more. Undefined until then, and for typed ones. */
export function useSheet(way: OutlineRecord['way']): ReadSheet | undefined {
  const [, setTurn] = useState(0);
  const key = way.kind === 'drawing' ? keyOf(way.blob, way.choice) : undefined;
  const sheet = key === undefined ? undefined : sheets.get(key);
  useEffect(() => {
    if (way.kind !== 'drawing' || sheet) return;
    let live = true;
    void getBlob(way.blob).then(async (bytes) => {
      if (!bytes || !live) return;
      const options = { job: `reading ${way.fileName}`, limitSeconds: readLimitSeconds(bytes.length) };
      const read = await geometryClient.run<ReadSheet>(options, (remote) => remote.readDrawing(bytes, way.fileName, way.choice));
      if (read.state !== 'done' || !live) return;
      keepSheet(way.blob, way.choice, read.value);
      setTurn((n) => n + 1);
    });
    return () => {
      live = false;
    };
    // biome-ignore lint: the key stands for the drawing and its choice
  }, [key, sheet]); // oxlint-disable-line react/exhaustive-deps
  return sheet;
}

/** A picture's address to be drawn under an outline; undefined while it loads, and for others. */
export function usePictureUrl(way: OutlineRecord['way']): string | undefined {
  const [url, setUrl] = useState<string>();
  const blob = way.kind === 'drawing' && (way.format === 'png' || way.format === 'jpg') ? way.blob : undefined;
  useEffect(() => {
    if (blob === undefined) return setUrl(undefined);
    let made: string | undefined;
    let live = true;
    void getBlob(blob).then((bytes) => {
      if (!bytes || !live) return;
      made = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>]));
      setUrl(made);
    });
    return () => {
      live = false;
      if (made) URL.revokeObjectURL(made);
    };
  }, [blob]);
  return url;
}
