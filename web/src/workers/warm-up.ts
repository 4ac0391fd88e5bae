import bladeUrl from '../../../demo/corpus/models/grooving-4.step?url';
import millUrl from '../../../demo/corpus/models/cutter-3.step?url';
import { type Kernel, NO_WORK, OpenModel } from '#core/kernel';
import { type Crew, makeGeometry } from '#core/making';
import { IDENTITY_FRAME } from '#core/math';
import { proposeReading } from '#core/reading';
import { nextTurn } from '../common/next-turn.ts';

// Planes, cylinders and cones in the one, splines in the other; twice, because what is used again is compiled better.
const MODELS = [bladeUrl, millUrl, bladeUrl, millUrl];

/** Opens small models and makes them light, so that the kernel's code and ours are compiled before the first one of a person comes. Ends between two steps where `isWanted` says so. */
export async function warmUp(kernel: Kernel, crew: Crew, isWanted: () => boolean): Promise<void> {
  for (const url of MODELS) {
    const response = await fetch(url).catch(() => undefined);
    if (!response?.ok) return;
    const bytes = new Uint8Array(await response.arrayBuffer());
    await nextTurn();
    if (isWanted()) return;
    const opened = await OpenModel.open(kernel, bytes, 'warm-up.step', NO_WORK);
    if (!opened.ok) return;
    try {
      await nextTurn();
      if (isWanted()) return;
      const read = opened.value.read();
      await nextTurn();
      if (isWanted()) return;
      if (read.ok) proposeReading(read.value.model);
      const goesOn = () => nextTurn().then(() => !isWanted());
      const bodies = opened.value.bodyIds;
      await makeGeometry(kernel, {
        bytes,
        file: 'warm-up.step',
        opened: opened.value,
        bodies,
        mode: 'auto',
        tolerance: 0.1,
        frame: IDENTITY_FRAME,
        spins: url === millUrl,
        crew,
        goesOn,
      });
    } finally {
      opened.value.close();
    }
  }
}
