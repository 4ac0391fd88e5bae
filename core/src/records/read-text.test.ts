import { describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { say } from '#core/issues';
import { readText } from './read-text.ts';

const schema = z.strictObject({ name: z.string(), sizes: z.array(z.number().positive()) });
const issuesOf = (text: string) => {
  const read = readText(schema, text, 'x.json', 'recipe');
  return read.ok ? [] : read.issues;
};

describe('JSON text by a schema', () => {
  it('is read where it fits', () => {
    expect(readText(schema, '{"name":"a","sizes":[1,2.5]}', 'x.json', 'recipe')).toEqual({ ok: true, value: { name: 'a', sizes: [1, 2.5] } });
  });
  it('is refused with the place of each fault, five at most', () => {
    expect(issuesOf('{"name":3,"sizes":[1,-2]}').map((i) => i.values.field)).toEqual(['name', 'sizes.1']);
    expect(issuesOf(`{"name":"a","sizes":[${Array(20).fill(-1).join()}]}`)).toHaveLength(5);
    expect(issuesOf('[]')[0].values).toMatchObject({ file: 'x.json', field: 'recipe' });
  });
  it('that is no JSON is said as such', () => {
    const [fault] = issuesOf('{"name":');
    expect(fault).toMatchObject({ code: 'record.bad', values: { file: 'x.json', field: 'recipe' } });
    expect(say(fault)).toMatch(/x\.json/);
  });
});
