import { describe, expect, it } from '@jest/globals';
import { ASSEMBLY_VERSION, type AssemblyRecord, ON_MASTER } from '#core/records';
import { foreignChanged, libraryLoaded, librarySlice, recordsChanged, redone, undone } from './library-slice.ts';

const { reducer } = librarySlice;
const record = (id: string, name: string): AssemblyRecord => ({
  kind: 'assembly',
  version: ASSEMBLY_VERSION,
  edges: [],
  shelf: ON_MASTER,
  id,
  name,
  pieces: [],
  createdAt: '',
  changedAt: '',
});
const begin = reducer(undefined, libraryLoaded({ a: record('a', 'A'), b: record('b', 'B') }));
const names = (s: typeof begin) => Object.fromEntries(Object.entries(s.records).map(([id, r]) => [id, r.name]));

describe('history of records', () => {
  it('undoes and redoes a change, a creation and a deletion', () => {
    let s = reducer(begin, recordsChanged('rename', { a: record('a', 'A2') }));
    s = reducer(s, recordsChanged('create', { c: record('c', 'C') }));
    s = reducer(s, recordsChanged('delete', { b: null }));
    expect(names(s)).toEqual({ a: 'A2', c: 'C' });
    const end = s;
    for (let i = 0; i < 3; i++) s = reducer(s, undone());
    expect(names(s)).toEqual({ a: 'A', b: 'B' });
    expect(reducer(s, undone())).toBe(s);
    for (let i = 0; i < 3; i++) s = reducer(s, redone());
    expect(names(s)).toEqual(names(end));
    expect(reducer(s, redone())).toBe(s);
  });
  it('forgets what was undone once something new is done', () => {
    let s = reducer(begin, recordsChanged('one', { a: record('a', 'A1') }));
    s = reducer(s, undone());
    s = reducer(s, recordsChanged('two', { a: record('a', 'A2') }));
    expect(s.future).toEqual([]);
    expect(s.past.map((c) => c.label)).toEqual(['two']);
  });
  it('keeps what another tab did: undo here touches only what was done here', () => {
    let s = reducer(begin, recordsChanged('mine', { a: record('a', 'A mine') }));
    s = reducer(s, foreignChanged({ b: record('b', 'B theirs') }));
    s = reducer(s, undone());
    expect(names(s)).toEqual({ a: 'A', b: 'B theirs' });
  });
  it('drops steps on a record that another tab changed since', () => {
    let s = reducer(begin, recordsChanged('mine', { a: record('a', 'A mine') }));
    s = reducer(s, foreignChanged({ a: record('a', 'A theirs') }));
    expect(s.past).toEqual([]);
    expect(names(reducer(s, undone())).a).toBe('A theirs');
  });
  it('does not keep more than 200 steps', () => {
    let s = begin;
    for (let i = 0; i < 230; i++) s = reducer(s, recordsChanged(`${i}`, { a: record('a', `${i}`) }));
    expect(s.past).toHaveLength(200);
  });
});
