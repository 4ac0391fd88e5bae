import { useEffect, useMemo, useState } from 'react';
import { say } from '#core/issues';
import { decodeModel, type Model } from '#core/mesh';
import { shapeBodies, shapeFileName, type SolidShape, writeSolidShape } from '#core/outline';
import type { BodyRole } from '#core/records';
import { geometryClient } from '../../../workers/geometry-client.ts';
import type { ReopenedModel } from '../../../workers/geometry.worker.ts';
import { previewModel } from './preview-model.ts';

export interface Solid {
  readonly model: Model;
  readonly roles: Readonly<Record<string, BodyRole>>;
}

// ms that a plate rests before it is made: its flanks need the kernel.
const REST_MS = 200;

/** The solid of a shape to look at: what is turned at once, a plate as soon as the kernel has made it; the one before until then. */
export function useSolid(shape: SolidShape | undefined): { readonly solid: Solid | undefined; readonly fault: string | null } {
  const turned = useMemo(() => (shape?.form === 'revolved' ? previewModel(shape) : undefined), [shape]);
  const [plate, setPlate] = useState<{ shape: SolidShape; model: Model } | null>(null);
  const [fault, setFault] = useState<{ shape: SolidShape; text: string } | null>(null);
  useEffect(() => {
    if (shape?.form !== 'flat') return undefined;
    let live = true;
    const timer = setTimeout(() => {
      const bytes = writeSolidShape(shape);
      void geometryClient
        .run<ReopenedModel>({ job: 'making the plate', limitSeconds: 60 }, (remote) => remote.modelOfShape(bytes, shapeFileName('plate')))
        .then((made) => {
          if (!live) return;
          const decoded = made.state === 'done' ? decodeModel(made.value.model) : undefined;
          if (decoded?.ok) setPlate({ shape, model: decoded.value });
          if (made.state === 'failed') setFault({ shape, text: made.issues.map(say).join(' ') });
        });
    }, REST_MS);
    return () => {
      live = false;
      clearTimeout(timer);
    };
  }, [shape]);
  const model = shape?.form === 'flat' ? plate?.model : turned;
  const roles = useMemo(
    () => Object.fromEntries(shape && model ? shapeBodies(plate && shape.form === 'flat' ? plate.shape : shape).map(({ role }, i) => [`b${i + 1}`, role]) : []),
    [shape, model, plate],
  );
  return { solid: model && { model, roles }, fault: fault && fault.shape === shape ? fault.text : null };
}
