import type { Archive, ArchivedFile } from '#core/sources';
import { runShown } from '../app/jobs.tsx';
import { showDone } from '../app/notify.tsx';
import { heldValue } from '../common/held.ts';
import { readLimitSeconds } from '../workers/geometry-client.ts';

/** An archive with several things to open, until somebody has said which. */
export interface OfferedArchive {
  /** One more for each that is offered. */
  readonly number: number;
  readonly from: string;
  readonly archive: Archive;
  readonly take: (files: readonly ArchivedFile[]) => void;
}

const offered = heldValue<OfferedArchive>();
export const useOfferedArchive = offered.useIt;

/** What is taken out of a zip or gzip file: its one model; where there are several things, those that are chosen. */
export async function filesOfArchive(bytes: Uint8Array<ArrayBuffer>, fileName: string): Promise<readonly File[]> {
  const archive = await runShown<Archive>(`Unpacking ${fileName}`, { job: `unpacking ${fileName}`, limitSeconds: readLimitSeconds(bytes.length) }, (remote) =>
    remote.unpack(bytes, fileName),
  );
  if (!archive) return [];
  const usual = usuallyTaken(archive);
  const taken = usual.length === 1 ? usual : await ask(fileName, archive);
  const left = archive.files.length + archive.others.length - taken.length;
  if (usual.length === 1 && left > 0)
    showDone(`${usual[0].name} was taken out of ${fileName}; ${left} other ${left === 1 ? 'file' : 'files'} in it left alone.`);
  return taken.map((f) => new File([f.bytes], f.name));
}

/** Each model in one form; where there are none, the drawings, or whatever comes first. */
export const usuallyTaken = ({ files }: Archive): readonly ArchivedFile[] => files.filter((f) => f.kind === files[0].kind && !f.isDouble);

// One after the other: of an archive that is dropped while another one waits for its answer it is asked after that.
let asked: Promise<unknown> = Promise.resolve();
let number = 0;
function ask(from: string, archive: Archive): Promise<readonly ArchivedFile[]> {
  const answer = asked.then(
    () =>
      new Promise<readonly ArchivedFile[]>((resolve) => {
        const take = (files: readonly ArchivedFile[]) => {
          offered.set(null);
          resolve(files);
        };
        offered.set({ number: number++, from, archive, take });
      }),
  );
  asked = answer;
  return answer;
}
