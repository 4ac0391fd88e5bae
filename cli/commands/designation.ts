import { type Issue, IssueError, say } from '#core/issues';
import { type Designation, factsOfDesignation, readDesignation } from '#core/standards';
import type { CommandOutput } from '../request.ts';
import { table } from '../table.ts';

/** What designations say. Words that are none alone are joined with the next one: people write them with blanks. */
export function designation(words: readonly string[]): CommandOutput {
  const codes = codesIn(words);
  if (codes.length === 1) {
    const read = readDesignation(codes[0]);
    if (!read.ok) throw new IssueError(read.issues);
    return { json: answer(read.value), text: said(read.value), warnings: [], checkFailed: false };
  }
  const read = codes.map((code) => ({ code, said: readDesignation(code) }));
  const results = read.map(({ code, said: of }) => (of.ok ? { ok: true, ...answer(of.value) } : { code, ok: false, error: errorOf(of.issues) }));
  return {
    json: { results },
    text: read.map(({ said: of }) => (of.ok ? said(of.value) : of.issues.map(say).join(' '))).join('\n\n'),
    warnings: [],
    checkFailed: read.some((r) => !r.said.ok),
  };
}

function codesIn(words: readonly string[]): string[] {
  const codes: string[] = [];
  for (let i = 0; i < words.length; ) {
    const [count = 0] = [1, 2, 3].filter((n) => i + n <= words.length && readDesignation(words.slice(i, i + n).join(' ')).ok);
    // A wrong one with a blank is told as one.
    const wrong = /^[a-z]+$/i.test(words[i]) && /^\d/.test(words[i + 1] ?? '') ? 2 : 1;
    codes.push(words.slice(i, i + (count || wrong)).join(' '));
    i += count || wrong;
  }
  return codes;
}

const answer = (d: Designation) => ({
  standard: d.standard,
  code: d.code,
  facts: factsOfDesignation(d),
  fields: d.fields.map(({ text, from, to, field, meaning }) => ({ text, from, to, field, meaning })),
});

const errorOf = (issues: readonly Issue[]) => {
  const { from, to, field } = issues[0].values;
  return { message: issues.map(say).join(' '), ...(from === undefined ? {} : { from, to, field }) };
};

function said(d: Designation): string {
  const fields = d.fields.map((f) => [f.text, f.from === f.to ? String(f.from) : `${f.from} to ${f.to}`, f.field, f.meaning]);
  const facts = Object.entries(factsOfDesignation(d)).map(([name, value]) => `${name} ${value}`);
  return `${d.code}: ${d.standard}\n${table(['', 'at', 'field', 'meaning'], fields)}\n${facts.join(', ')}`;
}
