import { useFrame } from '@react-three/fiber';
import { type RefObject, useMemo, useRef } from 'react';
import { Vector3 } from 'three';
import type { Vec3 } from '#core/math';

/** A word on the stage, at a place in stage coordinates. */
export interface StageLabel {
  readonly key: string;
  readonly text: string;
  readonly at: Vec3;
  readonly kind?: 'strong' | 'tip' | 'wrong';
}

/** The labels as plain elements above the canvas; `LabelPlacer` inside the canvas keeps them in their places. */
export function LabelLayer({ labels, layer }: { labels: readonly StageLabel[]; layer: RefObject<HTMLDivElement | null> }) {
  return (
    <div className="stage-labels" ref={layer} aria-hidden>
      {labels.map((l) => (
        <span key={l.key} className={`stage-label ${l.kind ?? ''}`}>
          {l.text}
        </span>
      ))}
    </div>
  );
}

/** Moves the labels of a layer to where their places are seen, in every frame that is drawn anyway. */
export function LabelPlacer({ labels, layer }: { labels: readonly StageLabel[]; layer: RefObject<HTMLDivElement | null> }) {
  const v = useRef(new Vector3());
  const places = useMemo(() => labels.map((l) => l.at), [labels]);
  useFrame(({ camera, size }) => {
    const elements = layer.current?.children;
    if (!elements) return;
    places.forEach((at, i) => {
      const element = elements[i] as HTMLElement | undefined;
      if (!element) return;
      v.current.set(...at).project(camera);
      // Inside of the stage as a whole: a label that is cut off says nothing.
      const half = element.offsetWidth / 2 + 4;
      const x = Math.min(size.width - half, Math.max(half, ((v.current.x + 1) / 2) * size.width));
      const y = Math.min(size.height - 12, Math.max(12, ((1 - v.current.y) / 2) * size.height));
      element.style.transform = `translate(-50%, -50%) translate(${x.toFixed(1)}px, ${y.toFixed(1)}px)`;
    });
  });
  return null;
}
