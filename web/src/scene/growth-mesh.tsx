import { useEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry, Color, FrontSide } from 'three';
import type { Motion } from '#core/math';
import { matrixOfMotion } from './bodies.tsx';

/** Made geometry with the growth at each of its corners, mm; in the coordinates of its component's file. */
export interface GrowthShown {
  readonly positions: Float32Array;
  readonly triangles: Uint32Array;
  readonly growth: Float32Array;
}

// From nothing to the greatest growth: told apart by lightness as well as by hue.
const STOPS: readonly [number, string][] = [
  [0, '#e8ece9'],
  [0.35, '#8cc4b4'],
  [0.7, '#d8a23a'],
  [1, '#8e2a1c'],
];

/** The colour of a share of the scale, 0 to 1. */
export function growthColour(share: number): Color {
  const s = Math.min(1, Math.max(0, share));
  const next = STOPS.findIndex(([at]) => at >= s);
  if (next <= 0) return new Color(STOPS[0][1]);
  const [[a, from], [b, to]] = [STOPS[next - 1], STOPS[next]];
  return new Color(from).lerp(new Color(to), (s - a) / (b - a));
}

/** As a CSS gradient, for the scale beside the picture. */
export const GROWTH_GRADIENT = `linear-gradient(to top, ${STOPS.map(([at, c]) => `${c} ${at * 100}%`).join(', ')})`;

export function GrowthMesh({ map, scale, stageFromModel }: { map: GrowthShown; scale: number; stageFromModel: Motion }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(map.positions, 3));
    const colours = new Float32Array(map.positions.length);
    map.growth.forEach((v, i) => growthColour(scale > 0 ? v / scale : 0).toArray(colours, 3 * i));
    g.setAttribute('color', new BufferAttribute(colours, 3));
    g.setIndex(new BufferAttribute(map.triangles, 1));
    g.computeVertexNormals();
    return g;
  }, [map, scale]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <group matrix={matrixOfMotion(stageFromModel)} matrixAutoUpdate={false}>
      <mesh geometry={geometry}>
        <meshStandardMaterial vertexColors flatShading metalness={0} roughness={0.9} side={FrontSide} />
      </mesh>
    </group>
  );
}
