import { useFrame, useThree } from '@react-three/fiber';
import { type RefObject, useEffect, useRef } from 'react';
import { Vector3 } from 'three';
import { addScaled } from '#core/math';
import { type Slide, useSlide } from './slide.ts';

/** Where a slide is seen: pixels a mm along it; filled in by the placer inside the canvas. */
export interface SlidePlace {
  element: HTMLDivElement | null;
  per: readonly [number, number];
}

// Pixels between its place and the handle: what is slid stays in sight.
const AWAY = 26;
// Pixels a mm below which the line is seen from its end, and cannot be slid along.
const END_ON = 0.15;

/** The handle of a slide above the canvas; `SlidePlacer` inside it keeps it in its place. */
export function SlideHandle({ slide, place }: { slide: Slide; place: RefObject<SlidePlace> }) {
  const events = useSlide(slide, () => place.current.per);
  return (
    <div
      className="slide-handle"
      data-held={slide.isHeld || undefined}
      ref={(element) => {
        place.current.element = element;
      }}
      {...events}
    >
      <span className="slide-grip" aria-hidden>
        <i />
      </span>
      <span className="slide-text number">{slide.text}</span>
    </div>
  );
}

/** Keeps the handle where its place is seen. */
export function SlidePlacer({ slide, place }: { slide: Slide; place: RefObject<SlidePlace> }) {
  const v = useRef(new Vector3());
  const invalidate = useThree((s) => s.invalidate);
  // Drawn on demand: where nothing else has changed, the handle has.
  useEffect(() => invalidate(), [slide, invalidate]);
  useFrame(({ camera, size }) => {
    const seen = (at: Slide['at']): [number, number] => {
      v.current.set(...at).project(camera);
      return [((v.current.x + 1) / 2) * size.width, ((1 - v.current.y) / 2) * size.height];
    };
    const [from, to] = [seen(slide.at), seen(addScaled(slide.at, slide.along, 1))];
    const per: [number, number] = [to[0] - from[0], to[1] - from[1]];
    place.current.per = per;
    const { element } = place.current;
    if (!element) return;
    const long = Math.hypot(...per);
    element.hidden = long < END_ON;
    if (long < END_ON) return;
    const [x, y] = [from[0] + (per[0] / long) * AWAY, from[1] + (per[1] / long) * AWAY];
    element.style.transform = `translate(-50%, -50%) translate(${Math.min(size.width - 24, Math.max(24, x)).toFixed(1)}px, ${Math.min(size.height - 24, Math.max(24, y)).toFixed(1)}px)`;
    element.style.setProperty('--along', `${Math.atan2(per[1], per[0]).toFixed(3)}rad`);
  });
  return null;
}
