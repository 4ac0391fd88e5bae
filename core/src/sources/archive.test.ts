import { gzipSync } from 'node:zlib';
import { describe, expect, it } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import { say } from '#core/issues';
import { isArchive, modelInArchive, openArchive } from './archive.ts';

const STEP = strToU8('ISO-10303-21;');
const STL = strToU8('solid x\nendsolid x\n');
const listed = (bytes: Uint8Array, file = 'tools.zip') => {
  const opened = openArchive(bytes, file);
  if (!opened.ok) throw new Error(opened.issues.map(say).join());
  return { files: opened.value.files.map((f) => `${f.kind} ${f.path}${f.isDouble ? ', double' : ''}`), others: opened.value.others };
};
const refused = (answer: ReturnType<typeof openArchive> | ReturnType<typeof modelInArchive>) => (answer.ok ? undefined : answer.issues.map(say).join());

describe('what a vendor packs', () => {
  const zip = zipSync({
    'bar 16/': new Uint8Array(0),
    'bar 16/Bar.stp': STEP,
    'bar 16/bar.stl': STL,
    'bar 16/basic/bar-basic.STEP': STEP,
    'bar 16/bar.dxf': strToU8('0\nSECTION'),
    'bar 16/bar.jpg': Uint8Array.of(0xff, 0xd8),
    'bar 16/data.csv': strToU8('a,b'),
    'bar 16/sheet.pdf': strToU8('%PDF'),
    'bar 16/empty.step': new Uint8Array(0),
    '__MACOSX/bar 16/._Bar.stp': strToU8('x'),
    'bar 16/.DS_Store': strToU8('x'),
  });
  it('is told by kinds; a model in a poorer form is a double; what systems leave is not named', () => {
    expect(isArchive(zip, 'tools.zip')).toBe(true);
    expect(listed(zip)).toEqual({
      files: [
        'model bar 16/Bar.stp',
        'model bar 16/bar.stl, double',
        'model bar 16/basic/bar-basic.STEP',
        'drawing bar 16/bar.dxf',
        'picture bar 16/bar.jpg',
        'table bar 16/data.csv',
      ],
      others: ['bar 16/sheet.pdf', 'bar 16/empty.step'],
    });
  });
  it('is unpacked where it is packed twice, by gzip too', () => {
    const inner = zipSync({ 'a.step': STEP, 'b.step.gz': new Uint8Array(gzipSync(STEP)), 'notes.txt': strToU8('x') });
    expect(listed(zipSync({ 'set/inner.zip': inner, 'c.3mf': zipSync({ '3D/3dmodel.model': strToU8('<model/>') }) }))).toEqual({
      files: ['model c.3mf', 'model set/inner.zip/a.step', 'model set/inner.zip/b.step.gz/b.step'],
      others: ['set/inner.zip/notes.txt'],
    });
  });
  it('of one model is that: as stpZ (zip or gzip), or beside its own mesh', () => {
    for (const [file, bytes] of [
      ['bar.stpZ', zipSync({ 'bar.stp': STEP })],
      ['bar.stpZ', new Uint8Array(gzipSync(STEP))],
      ['bar.stp.gz', new Uint8Array(gzipSync(STEP))],
      ['bar.zip', zipSync({ 'bar.stp': STEP, 'bar.stl': STL, 'bar.pdf': strToU8('%PDF') })],
    ] as const) {
      const model = modelInArchive(bytes, file);
      expect(model.ok && [model.value.name, new TextDecoder().decode(model.value.bytes)]).toEqual(['bar.stp', 'ISO-10303-21;']);
    }
  });
  it('of several is asked for by its path, or its name where that is one only', () => {
    expect(refused(modelInArchive(zip, 'tools.zip'))).toMatch(/tools\.zip holds 2 models: bar 16\/Bar\.stp, .*Say which one: tools\.zip\/NAME/);
    expect(refused(modelInArchive(zip, 'tools.zip', 'Bar.step'))).toMatch(/Bar\.step is not in tools\.zip, which holds bar 16\/Bar\.stp/);
    for (const path of ['bar 16/basic/bar-basic.STEP', 'bar-basic.STEP']) {
      const model = modelInArchive(zip, 'tools.zip', path);
      expect(model.ok && model.value.path).toBe('bar 16/basic/bar-basic.STEP');
    }
    expect(refused(modelInArchive(zipSync({ 'a/x.step': STEP, 'b/x.step': STEP }), 'z.zip', 'x.step'))).toMatch(/is not in z\.zip/);
  });
});

describe('what is no archive, or not to be opened', () => {
  it('files of this program and 3MF are what they are, wherever their names stand', () => {
    for (const name of ['manifest.json', 'shelf.json']) {
      const first = zipSync({ [name]: strToU8('{}'), 'x.stl': STL });
      const last = zipSync({ 'x.stl': STL, [name]: strToU8('{}') });
      expect([isArchive(first, 'p.zip'), isArchive(last, 'p.zip'), isArchive(first.subarray(0, first.length / 2), 'p.zip')]).toEqual([false, false, false]);
      expect(listed(zipSync({ 'p.zip': first })).files).toEqual(['package p.zip']);
    }
    expect(isArchive(zipSync({ 'other/manifest.json': strToU8('{}') }), 'v.zip')).toBe(true);
    expect(isArchive(zipSync({ 'x.model': STL }), 'x.3mf')).toBe(false);
    expect(isArchive(STEP, 'x.zip')).toBe(false);
  });
  it('says what is wrong: nothing to open, locked, cut off, damaged, too large', () => {
    expect(refused(openArchive(zipSync({ 'readme.txt': strToU8('x') }), 'r.zip'))).toMatch(/r\.zip holds nothing that Ruota opens: readme\.txt\. Ask/);
    expect(refused(modelInArchive(zipSync({ 'a.dxf': strToU8('0') }), 'd.zip'))).toMatch(/d\.zip holds no model: a\.dxf/);
    // Bit 0 of the flags of the second file alone, in its local header and in the directory.
    const locked = zipSync({ 'read me.txt': strToU8('x'), 'a.step': STEP });
    const view = new DataView(locked.buffer, locked.byteOffset);
    for (const [signature, flags] of [
      [0x04034b50, 6],
      [0x02014b50, 8],
    ]) {
      const at = Array.from({ length: locked.length - 4 }, (_, i) => i).filter((i) => view.getUint32(i, true) === signature)[1];
      locked[at + flags] |= 1;
    }
    expect(refused(openArchive(locked, 'l.zip'))).toMatch(/l\.zip is locked by a password/);
    const noise = Uint8Array.from({ length: 40_000 }, (_, i) => (i * 2654435761) >>> 13);
    const zip = zipSync({ 'a.step': noise });
    expect(refused(openArchive(zip.subarray(0, zip.length / 2), 'c.zip'))).toMatch(/c\.zip cannot be unpacked/);
    const gz = new Uint8Array(gzipSync(noise));
    expect(refused(openArchive(gz.subarray(0, gz.length / 2), 'c.step.gz'))).toMatch(/c\.step\.gz cannot be unpacked/);
    expect(refused(openArchive(zipSync({ 'a.step': noise }), 'b.zip', 10_000))).toMatch(/b\.zip would unpack to more than/);
    expect(refused(openArchive(new Uint8Array(gzipSync(noise)), 'b.step.gz', 10_000))).toMatch(/b\.step\.gz would unpack to more than/);
    // Two of half the limit in archives of their own.
    const half = zipSync({ 'a.step': noise.subarray(0, 6000) });
    expect(refused(openArchive(zipSync({ 'one.zip': half, 'two.zip': half }), 'b.zip', 10_000))).toMatch(/would unpack to more than/);
  });
});
