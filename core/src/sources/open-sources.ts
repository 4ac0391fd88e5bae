import { done, type Result } from '#core/issues';
import { type Kernel, OpenModel } from '#core/kernel';
import { type ComponentRecord, hashPlain } from '#core/records';
import { workOf } from './source-file.ts';

// Files that stay open: the one that is worked on, and the one before it. Each takes some tens of MB in the kernel.
const MOST_OPEN = 2;

/** Vendor files that stay open between jobs, so that what is made of one again and again does not read it each time. */
export class OpenSources {
  private readonly kernel: Kernel;
  private readonly most: number;
  /** By source and work, the oldest first. */
  private readonly open = new Map<string, OpenModel>();

  /** `most`: how many stay open. */
  constructor(kernel: Kernel, most = MOST_OPEN) {
    this.kernel = kernel;
    this.most = most;
  }

  /** The file of a component with its work; `bytes` are those of its source. It must not be closed. */
  async of(record: ComponentRecord, bytes: Uint8Array, onProgress?: (share: number, text: string) => void): Promise<Result<OpenModel>> {
    const key = keyOf(record);
    const known = this.open.get(key);
    if (known) {
      this.keep(key, known);
      return done(known);
    }
    const opened = await OpenModel.open(this.kernel, bytes, record.source.fileName, workOf(record), onProgress);
    if (opened.ok) this.keep(key, opened.value);
    return opened;
  }

  /** Takes over a file that was opened for a record that has come of it. */
  take(record: ComponentRecord, opened: OpenModel): void {
    const key = keyOf(record);
    const known = this.open.get(key);
    if (known && known !== opened) known.close();
    this.keep(key, opened);
  }

  close(): void {
    for (const model of this.open.values()) model.close();
    this.open.clear();
  }

  private keep(key: string, model: OpenModel): void {
    this.open.delete(key);
    this.open.set(key, model);
    for (const [oldest, other] of this.open) {
      if (this.open.size <= this.most) break;
      this.open.delete(oldest);
      other.close();
    }
  }
}

const keyOf = (record: ComponentRecord): string => `${record.source.blob} ${hashPlain(workOf(record))}`;
