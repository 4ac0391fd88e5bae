import type { Frame } from '#core/math';
import type { Model } from '#core/mesh';
import { geometryClient, withHeldModel } from '../../../workers/geometry-client.ts';

/** What of some bodies of a model lies behind the plane Y = `y` of a frame, as loops of z, x in it; undefined where it could not be told. */
export async function outlineBehind(blob: string, model: Model, bodies: readonly string[], frame: Frame, y = 0): Promise<readonly Float64Array[] | undefined> {
  const answer = await geometryClient.run<Float64Array[]>({ job: 'drawing the section', limitSeconds: 60 }, (remote) =>
    withHeldModel(
      remote,
      blob,
      () => Promise.resolve(model),
      () => remote.outlineBehind(blob, bodies, frame, y),
    ),
  );
  return answer.state === 'done' ? answer.value : undefined;
}
