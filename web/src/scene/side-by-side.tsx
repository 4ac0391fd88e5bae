import { useFrame, useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import type { OrthographicCamera } from 'three';

/** Names of the groups that are seen in the left and in the right half. */
export const LEFT = 'left half';
export const RIGHT = 'right half';

/** Draws the two groups of the scene beside each other, through one camera, so that both turn together. */
export function SideBySide() {
  const { gl, invalidate } = useThree();
  useEffect(() => {
    invalidate();
    return () => {
      gl.setScissorTest(false);
      gl.setViewport(0, 0, gl.domElement.width / gl.getPixelRatio(), gl.domElement.height / gl.getPixelRatio());
      invalidate();
    };
  }, [gl, invalidate]);
  // A priority above 0 takes the drawing over.
  useFrame(({ scene, camera, size }) => {
    const [left, right] = [scene.getObjectByName(LEFT), scene.getObjectByName(RIGHT)];
    if (!left || !right) return;
    const half = size.width / 2;
    const lens = camera as OrthographicCamera;
    const [from, to] = [lens.left, lens.right];
    lens.left = -half / 2;
    lens.right = half / 2;
    lens.updateProjectionMatrix();
    gl.setScissorTest(true);
    for (const [i, shown] of [left, right].entries()) {
      left.visible = shown === left;
      right.visible = shown === right;
      gl.setViewport(i * half, 0, half, size.height);
      gl.setScissor(i * half, 0, half, size.height);
      gl.render(scene, camera);
    }
    gl.setScissorTest(false);
    left.visible = true;
    right.visible = true;
    lens.left = from;
    lens.right = to;
    lens.updateProjectionMatrix();
  }, 1);
  return null;
}
