import { useEffect, useState } from 'react';
import { geometryClient, type Remote } from './geometry-client.ts';

/** A question to the worker, about what is shown now. */
interface Question {
  /** What the answer follows from: it is asked anew where that changes. */
  readonly key: string;
  /** Whether all is there that it takes. */
  readonly isReady: boolean;
  /** What is being done, for messages. */
  readonly job: string;
  /** ms without a change before it is asked: what is dragged changes all the time. */
  readonly stillMs: number;
  readonly ask: (remote: Remote) => Promise<unknown>;
}

/** The answer to a question, once it is known of what is shown now; `isOpen` until then. Without a value it could not be told. */
export function useAsked<T>({ key, isReady, job, stillMs, ask }: Question): { readonly value: T | undefined; readonly isOpen: boolean } {
  const [answer, setAnswer] = useState<{ readonly key: string; readonly value?: T }>({ key: '' });
  useEffect(() => {
    if (!isReady) return undefined;
    let live = true;
    const run = async () => {
      const result = await geometryClient.run<T>({ job, limitSeconds: 120 }, (remote) => (live ? ask(remote) : Promise.resolve({ ok: false, issues: [] })));
      if (live) setAnswer(result.state === 'done' ? { key, value: result.value } : { key });
    };
    const later = setTimeout(() => void run(), stillMs);
    return () => {
      live = false;
      clearTimeout(later);
    };
  }, [key, isReady]); // oxlint-disable-line react/exhaustive-deps
  const isKnown = answer.key === key;
  return { value: isKnown ? answer.value : undefined, isOpen: isReady && !isKnown };
}
