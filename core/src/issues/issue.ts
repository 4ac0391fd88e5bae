import { type IssueCode, issueTexts } from './issue-texts.ts';

/** Something that is wrong, as data: a code, and the values that its sentence is filled with. */
export interface Issue {
  readonly code: IssueCode;
  readonly values: Readonly<Record<string, string | number>>;
}

export type Result<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly issues: readonly Issue[] };

export const done = <T>(value: T): Result<T> => ({ ok: true, value });
export const issue = (code: IssueCode, values: Issue['values'] = {}): Issue => ({ code, values });
export const failed = (code: IssueCode, values: Issue['values'] = {}): { ok: false; issues: Issue[] } => ({
  ok: false,
  issues: [issue(code, values)],
});

const fill = (text: string, values: Issue['values']) => text.replace(/\{([\w-]+)\}/g, (_, name: string) => String(values[name] ?? '?'));

/** What is wrong, where and why: one sentence. */
export const sayWhat = ({ code, values }: Issue): string => fill(issueTexts[code][0], values);

/** What would help. */
export const sayHelp = ({ code, values }: Issue): string => fill(issueTexts[code][1], values);

/** Both, as one line. */
export const say = (i: Issue): string => `${sayWhat(i)} ${sayHelp(i)}`.trim();

/** An issue that travels as an exception where a call chain has no place for a result. */
export class IssueError extends Error {
  readonly issues: readonly Issue[];
  constructor(issues: readonly Issue[], options?: { cause?: unknown }) {
    super(issues.map(say).join(' '), options);
    this.name = 'IssueError';
    this.issues = issues;
  }
}

/** The value of a result, or an IssueError. */
export function unwrap<T>(result: Result<T>): T {
  if (!result.ok) throw new IssueError(result.issues);
  return result.value;
}
