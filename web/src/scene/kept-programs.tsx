import { addAfterEffect, useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import type { WebGLRenderer } from 'three';

const kept = new WeakSet<object>();

/**
 * Keeps the shaders of a stage as long as what draws it. Without it the shader of a kind goes with the last thing of that kind, and to compile it anew takes
 * longer than to draw what stands in its place: each time a tolerance is dragged, a component chosen, a face pointed at.
 */
export function KeptPrograms() {
  const gl = useThree((s) => s.gl);
  // After each picture: what is taken away is so between two of them.
  useEffect(() => addAfterEffect(() => keepPrograms(gl)), [gl]);
  return null;
}

// As if one more material used each.
function keepPrograms({ info }: WebGLRenderer): void {
  for (const program of info.programs ?? []) {
    if (kept.has(program)) continue;
    kept.add(program);
    program.usedTimes++;
  }
}
