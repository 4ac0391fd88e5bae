// Solids whose fits are known by hand, for tests: a shank with a flat, and bores with set screws.
import { draw, makeBaseBox, makeCylinder, setOC, type Shape3D } from 'replicad';

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
    /**
     * A hub shell about Z, its front at z 30: 40 across and 25 behind z 10 with a fillet of 2 between, bored 17, 20 in front of z 15 and with a recess of 24 from z 5 to 9.
     * With a hole of 4 across at z 20, where that is wanted; about another line, where it is moved and turned.
     */
    hub: (crossHole: boolean, place: (s: Shape3D) => Shape3D = (s) => s) => {
      const turned = draw([8.5, -10])
        .lineTo([12.5, -10])
        .lineTo([12.5, 8])
        .threePointsArcTo([14.5, 10], [14.5 - Math.SQRT2, 8 + Math.SQRT2])
        .lineTo([20, 10])
        .lineTo([20, 29])
        .lineTo([19, 30])
        .lineTo([10, 30])
        .lineTo([10, 15])
        .lineTo([8.5, 15])
        .lineTo([8.5, 9])
        .lineTo([12, 9])
        .lineTo([12, 5])
        .lineTo([8.5, 5])
        .close()
        .sketchOnPlane('XZ')
        .revolve([0, 0, 1]) as Shape3D;
      return stepOf(place(crossHole ? turned.cut(makeCylinder(2, 60, [-30, 0, 20], [1, 0, 0])) : turned));
    },
    /** A cube of 20 about the origin. */
    cube: () => stepOf(makeBaseBox(20, 20, 20).translate([0, 0, -10])),
  };
}
