import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import type { WebGLRenderer } from 'three';
import { Line2 } from 'three/examples/jsm/lines/Line2.js';
import { LineGeometry } from 'three/examples/jsm/lines/LineGeometry.js';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import type { Vec3 } from '#core/math';

interface Props {
  readonly points: readonly Vec3[];
  readonly colour: string;
  /** Pixels. */
  readonly width: number;
  readonly opacity?: number;
  readonly renderOrder: number;
}

/** A chain of lines some pixels wide, drawn over everything. */
export function FatLine({ points, colour, width, opacity = 1, renderOrder }: Props) {
  const gl = useThree((s) => s.gl);
  // The same numbers are the same points.
  const numbers = points.join();
  const line = useMemo(() => {
    const geometry = new LineGeometry();
    geometry.setPositions(numbers.split(',').map(Number));
    return new Line2(geometry, materialOf(gl, colour, width, opacity));
  }, [gl, numbers, colour, width, opacity]);
  useEffect(() => () => line.geometry.dispose(), [line]);
  return <primitive object={line} renderOrder={renderOrder} />;
}

// Kept as long as what draws them: where the last of a kind goes its shader goes too (unlike the shaders of `KeptPrograms` it would not be known again).
const MATERIALS = new WeakMap<WebGLRenderer, Map<string, LineMaterial>>();

function materialOf(gl: WebGLRenderer, color: string, linewidth: number, opacity: number): LineMaterial {
  const materials = MATERIALS.get(gl) ?? new Map<string, LineMaterial>();
  MATERIALS.set(gl, materials);
  const key = `${color} ${linewidth} ${opacity}`;
  const known = materials.get(key);
  if (known) return known;
  const made = new LineMaterial({ color, linewidth, opacity, transparent: true, depthTest: false });
  materials.set(key, made);
  return made;
}
