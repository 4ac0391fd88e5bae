import type { Issue, Result } from '#core/issues';

export type Progress = (share: number, text: string) => void;

/** What a job answers: its result, or that the kernel is broken and this worker must be replaced. */
export type JobAnswer<T> = Result<T> | { readonly ok: false; readonly issues: readonly Issue[]; readonly lost: true };
