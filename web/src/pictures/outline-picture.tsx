import type { OutlineRecord } from '#core/records';
import { shapeOfOutline } from '#core/sources';
import { ShapePicture } from './shape-picture.tsx';

/** An outline as a small drawing of what it makes. */
export function OutlinePicture({ outline }: { outline: OutlineRecord }) {
  const shape = shapeOfOutline(outline);
  return shape.ok ? <ShapePicture shape={shape.value} /> : <span className="picture-wait picture-none">no outline yet</span>;
}
