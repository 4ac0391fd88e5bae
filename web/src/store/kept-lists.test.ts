import { describe, expect, it } from '@jest/globals';
import type { SetRecord } from '#core/records';
import { ENTRY_FORM, entryOf, findOnShelf, readQuery } from '#core/shelf';
import { tool } from './records-for-tests.ts';
import { listOf, listOfText, oneList, textOfList } from './kept-lists.ts';

const SET: SetRecord = { kind: 'set', version: 1, id: 's', name: 'Job 4', purpose: 'job', createdAt: '2026-01-01', changedAt: '2026-01-01' };
const records = [tool('drill 8.5 x 110', 'd'), tool('CNMG 120408', 'c'), tool('M8 tap', 't')];
const MANY = listOf([...records, SET]);

describe('what lists show, kept beside the records', () => {
  it('comes back as it was, and is found by the same words and numbers as the records themselves', () => {
    const back = listOfText(textOfList(MANY));
    expect(back).toEqual({ entries: JSON.parse(JSON.stringify(records.map(entryOf))) as unknown, sets: [SET] });
    for (const text of ['drill', 'DC>8', 'RE=0.8', 'kind=insert', 'nothing like it']) {
      const { query } = readQuery(text);
      const ids = (of: Parameters<typeof findOnShelf>[0]) => findOnShelf(of, query).entries.map((e) => e.id);
      expect([text, ids(back?.entries ?? [])]).toEqual([text, ids(records.map(entryOf))]);
    }
  });

  it('is worth nothing where entries had another form, or its text is damaged', () => {
    const text = textOfList(MANY);
    expect(listOfText(text.replace(`{"form":${ENTRY_FORM}`, `{"form":${ENTRY_FORM + 1}`))).toBeUndefined();
    for (const damaged of [text.slice(0, 40), '', 'null', '[]', '7']) expect([damaged, listOfText(damaged)]).toEqual([damaged, undefined]);
  });

  it('is one list only where no part of it is missing', () => {
    const parts = records.map((r) => listOf([r]));
    expect(oneList(parts)?.entries.map((e) => e.id)).toEqual(['d', 'c', 't']);
    expect(oneList([...parts, undefined])).toBeUndefined();
    expect(oneList([])).toEqual({ entries: [], sets: [] });
  });
});
