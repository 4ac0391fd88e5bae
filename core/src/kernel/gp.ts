import type { gp_Dir, gp_Pnt, gp_Trsf, OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { type Motion, normalize, type Vec3 } from '#core/math';
import type { KernelHandle, Own } from './scope.ts';

// Small conversions between the kernel's values and ours; each frees what it is given.

const take = <H extends KernelHandle, T>(handle: H, read: (h: H) => T): T => {
  try {
    return read(handle);
  } finally {
    handle.delete();
  }
};

export const vecOfPoint = (p: gp_Pnt): Vec3 => take(p, (h) => [h.X(), h.Y(), h.Z()]);
export const vecOfDir = (d: gp_Dir): Vec3 => normalize(take(d, (h) => [h.X(), h.Y(), h.Z()]));

/** The kernel's form of a rigid motion. */
export function trsfOf(oc: OpenCascadeInstance, own: Own, { r, t }: Motion): gp_Trsf {
  const trsf = own(new oc.gp_Trsf());
  trsf.SetValues(r[0], r[1], r[2], t[0], r[3], r[4], r[5], t[1], r[6], r[7], r[8], t[2]);
  return trsf;
}

/** The sub-shapes of a kind in the order of the explorer, each once; owned by the scope. */
export function listSubShapes(
  oc: OpenCascadeInstance,
  own: Own,
  shape: TopoDS_Shape,
  kind: 'TopAbs_SOLID' | 'TopAbs_FACE' | 'TopAbs_EDGE' | 'TopAbs_VERTEX' | 'TopAbs_SHELL',
) {
  const seen = new Set<number>();
  const found: { shape: TopoDS_Shape; hash: number }[] = [];
  const explorer = own(new oc.TopExp_Explorer(shape, kind as never));
  for (; explorer.More(); explorer.Next()) {
    const sub = own(explorer.Current());
    const hash = hashOf(oc, sub);
    if (seen.has(hash)) continue;
    seen.add(hash);
    found.push({ shape: sub, hash });
  }
  return found;
}

/** Identity of a shape within one kernel: its geometry and place, whatever its orientation. */
export const hashOf = (oc: OpenCascadeInstance, shape: TopoDS_Shape): number => oc.ReplicadShapeHasher.HashCode(shape, 2147483647);
