// Solids whose fits are known by hand, for tests: a shank with a flat, and bores with set screws.
import { makeBaseBox, makeCylinder, setOC, type Shape3D } from 'replicad';

const stepOf = async (shape: Shape3D): Promise<Uint8Array> => new Uint8Array(await shape.blobSTEP().arrayBuffer());
const radial = (deg: number): [number, number, number] => [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180), 0];

/** The solids as STEP files, made by a kernel that is loaded already. */
export function fitSolids(oc: Parameters<typeof setOC>[0]) {
  setOC(oc);
  return {
    /** A shank of 16 about Z from z -60 to 20, with a flat 1.5 deep on its +Y side from z -40 to -10. */
    flatted: () => stepOf(makeCylinder(8, 80, [0, 0, -60], [0, 0, 1]).cut(makeBaseBox(20, 4, 30).translate([0, 8.5, -40]))),
    /** A tube of 40 about Z below z 0, bored 16, with holes of 5 for screws at heights and degrees. */
    screwed: (screws: readonly (readonly [z: number, deg: number])[]) =>
      stepOf(
        screws.reduce<Shape3D>(
          (block, [z, deg]) => block.cut(makeCylinder(2.5, 30, [0, 0, z], radial(deg))),
          makeCylinder(20, 60, [0, 0, -60], [0, 0, 1]).cut(makeCylinder(8, 70, [0, 0, -65], [0, 0, 1])),
        ),
      ),
    /** A cube of 20 about the origin. */
    cube: () => stepOf(makeBaseBox(20, 20, 20).translate([0, 0, -10])),
  };
}
