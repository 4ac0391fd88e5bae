import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import { move } from '#core/math';
import { profileVolume, validateProfile } from '#core/outline';
import {
  ASSEMBLY_VERSION,
  chosenGeometry,
  COMPONENT_VERSION,
  cornerTowards,
  freshGeometry,
  geometryInputs,
  hashBytes,
  type ComponentRecord,
  packedPartSchema,
  posedFromFile,
  readPackage,
  readRecord,
  sampleComponent,
  safeFileName,
  unzipWithLimit,
  useOf,
  virtualTipOf,
  withMount,
  writePackage,
} from './index.ts';

const HASH = 'a'.repeat(64);
const plain = sampleComponent('c1', {
  componentKind: 'turning tool',
  mount: {
    id: 'mount',
    name: '',
    frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] },
    connection: { standard: 'square', size: '25x25' },
    origin: { from: 'typed', evidence: '' },
  },
});
const codeOf = (r: ReturnType<typeof readRecord>) => (r.ok ? 'ok' : `${r.issues[0].code} ${r.issues[0].values.field ?? ''}`.trim());

describe('records', () => {
  it('come back as they were stored', () => {
    expect(readRecord(JSON.parse(JSON.stringify(plain)), 'x')).toEqual({ ok: true, value: plain });
  });
  it('of the first version are brought up to date', () => {
    const { componentKind: _, cuts: __, faceColours: ___, designation: ____, ...old } = plain;
    const { foundScale: _____, ...source } = plain.source;
    expect(readRecord({ ...old, source, version: 1 }, 'x')).toMatchObject({
      ok: true,
      value: { version: COMPONENT_VERSION, componentKind: 'other', cuts: [], source: { foundScale: 1 } },
    });
  });
  it('of the version before, with geometry made, come back with it out of date and nothing else lost', () => {
    const { plan: _, ...old } = plain;
    const part = { bodies: ['b1'], mode: 'revolved', triangles: 12, growth: { min: 0, mean: 0, max: 0.01 }, closed: true, crossings: 0, samples: 9 };
    const geometry = {
      target: 'non-cutting',
      mode: 'revolved',
      tolerance: 0.05,
      closeBelow: 14,
      overrides: { b1: 'wrap' },
      parts: [{ ...part, leastAt: [0, 0, 0], greatestAt: [0, 0, 0], histogram: [1], why: 'revolved' }],
      inputs: HASH,
      blob: HASH,
      bodies: ['b1'],
      trianglesIn: 20,
      trianglesOut: 12,
      bytesIn: 10,
      bytesOut: 10,
      volumeIn: 1,
      volumeOut: 1,
      growth: part.growth,
      closed: true,
      milliseconds: 5,
      profile: [
        [
          [0, 0],
          [0, 5],
          [9, 5],
          [9, 0],
        ],
      ],
    };
    const read = readRecord({ ...old, version: 4, geometry: [geometry] }, 'x');
    expect(read).toMatchObject({ ok: true, value: { version: COMPONENT_VERSION, plan: null, mount: plain.mount } });
    const record = read.ok ? (read.value as ComponentRecord) : plain;
    expect(chosenGeometry(record, 'non-cutting')).toEqual({
      mode: 'revolved',
      tolerance: 0.05,
      closeBelow: 14,
      overrides: { b1: 'wrap' },
      bores: 'closed',
      bridge: 0,
      drawn: null,
    });
    expect(freshGeometry(record, 'non-cutting')).toBeUndefined();
    // What was made before gaps could be bridged is still what would be made now; with gaps bridged it is not.
    const { bridge: _bridge, ...chosen } = chosenGeometry(record, 'non-cutting');
    const ways = [0, 2].map((bridge) => geometryInputs(plain, 'non-cutting', { ...chosen, bridge }));
    const { profile: _profile, ...rest } = geometry;
    const made = { ...rest, ...chosen, parts: [{ ...rest.parts[0], area: 5, histogramTo: 0.01 }], inputs: ways[0], checkCost: { before: 1, after: 1 } };
    const kept = readRecord({ ...plain, geometry: [made] }, 'x');
    expect(kept.ok && freshGeometry(kept.value as ComponentRecord, 'non-cutting')?.bridge).toBe(0);
    expect(ways[1]).not.toBe(ways[0]);
  });
  it('of packages of before, with outsides as runs of points, are read as loops', () => {
    const part = { target: 'non-cutting', files: { glb: 'a.glb', stl: 'a.stl' }, mode: 'revolved', tolerance: 0.05, triangles: 12, volume: 9, closed: true };
    const run = [
      [0, 0],
      [0, 5],
      [9, 5],
      [9, 0],
    ];
    const read = packedPartSchema.parse({ ...part, growth: { min: 0, mean: 0, max: 0 }, profile: [run] });
    expect(validateProfile(read.profile ?? [])).toEqual([]);
    expect(profileVolume(read.profile ?? [])).toBeCloseTo(Math.PI * 25 * 9, 9);
    expect(packedPartSchema.safeParse({ ...part, growth: { min: 0, mean: 0, max: 0 }, profile: [[[0, 0, 0]]] }).success).toBe(false);
  });
  it.each([
    ['of a newer version', { ...plain, version: 99 }, 'package.newer'],
    ['that are no object', 'text', 'record.bad record'],
    ['of another kind', { ...plain, kind: 'lathe' }, 'record.bad kind'],
    [
      'with NaN in a frame',
      { ...plain, mount: { ...plain.mount, frame: { ...plain.mount?.frame, origin: [Number.NaN, 0, 0] } } },
      'record.bad mount.frame.origin.0',
    ],
    ['with a skew frame', { ...plain, mount: { ...plain.mount, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0.1] } } }, 'record.bad mount.frame'],
    [
      'with an absurd length',
      { ...plain, mount: { ...plain.mount, frame: { origin: [1e9, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } } },
      'record.bad mount.frame.origin.0',
    ],
    ['without bodies', { ...plain, bodies: [] }, 'record.bad bodies'],
    ['with a role that does not exist', { ...plain, bodies: [{ ...plain.bodies[0], role: 'handle' }] }, 'record.bad bodies.0.role'],
  ])('%s are refused with the place', (_, raw, code) => expect(codeOf(readRecord(raw, 'x'))).toBe(code));

  it('change the hash of their geometry with what it is made from, and with nothing else', () => {
    const choice = { mode: 'exact' as const, tolerance: 0.05, closeBelow: 14, overrides: {}, bores: 'closed' as const, bridge: 0, drawn: null };
    const base = geometryInputs(plain, 'non-cutting', choice);
    expect(geometryInputs({ ...plain, ...{ name: 'other', tips: [] } }, 'non-cutting', choice)).toBe(base);
    expect(geometryInputs({ ...plain, bodies: [{ ...plain.bodies[0], role: 'left out' }] }, 'non-cutting', choice)).not.toBe(base);
    const step = { id: 's', kind: 'move' as const, by: [0, 0, 1] as [number, number, number], note: '' };
    expect(geometryInputs({ ...plain, moves: [{ id: 'm', body: 'b1', step }] }, 'non-cutting', choice)).not.toBe(base);
    for (const other of [{ tolerance: 0.06 }, { mode: 'revolved' as const }, { closeBelow: 3 }, { overrides: { b1: 'wrap' as const } }])
      expect(geometryInputs(plain, 'non-cutting', { ...choice, ...other })).not.toBe(base);
  });
});

describe('the use of a tool', () => {
  const holder = sampleComponent('h', { componentKind: 'turning tool', designation: 'DCLNL 2525 M12' });
  it('is usual until somebody says it, value by value', () => {
    const usual = useOf(holder);
    expect([usual?.sense, usual?.usual.senseWhy]).toEqual(['M4', 'left hand, fed towards the chuck']);
    const said = useOf({ ...holder, use: { sense: 'M3', groups: { M: { surfaceSpeed: 111 } } } });
    expect([said?.sense, said?.groups.M?.surfaceSpeed, said?.groups.M?.feed]).toEqual(['M3', 111, usual?.groups.M?.feed]);
    expect(said?.groups.P).toEqual(usual?.groups.P);
  });
  it('has the sense of the hand that its rake face tells, and none where nothing does', () => {
    const tip = {
      id: 't',
      name: 't',
      noseRadius: 0.8,
      noseCentre: [0, 0, 0] as const,
      corner: { x: 1 as const, z: 1 as const },
      programmedPoint: 'virtual tip' as const,
    };
    const mount = {
      id: 'm',
      name: '',
      frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as const,
      connection: { standard: 'square' as const, size: '25x25' },
    };
    const origin = (from: 'read' | 'picked') => ({ from, evidence: '' });
    const senseOf = (y: number, from: 'read' | 'picked') =>
      useOf(
        sampleComponent('t', {
          componentKind: 'turning tool',
          mount: { ...mount, origin: origin('read') },
          tips: [{ ...tip, rake: [0, y, 0], origin: origin(from) }],
        }),
      )?.sense;
    expect([senseOf(1, 'read'), senseOf(-1, 'read'), senseOf(1, 'picked')]).toEqual(['M3', 'M4', null]);
  });
  it('of a material that it should not cut is there once somebody says it', () => {
    const diamond = { ...holder, use: { cuttingMaterial: 'DP' as const, groups: {} } };
    expect(useOf(diamond)?.groups.P).toBeNull();
    expect(useOf({ ...diamond, use: { ...diamond.use, groups: { P: { surfaceSpeed: 50, feed: 0.1 } } } })?.groups.P).toEqual({ surfaceSpeed: 50, feed: 0.1 });
  });
  it('is none of what holds', () => expect(useOf(sampleComponent('a', { componentKind: 'adapter' }))).toBeNull());
  it('of the version before was not said', () => {
    const { use: _, ...before } = { ...holder, version: 8 };
    expect(readRecord(before, 'x')).toMatchObject({ ok: true, value: { version: 9, use: { groups: {} } } });
  });
});

describe('pose and tip', () => {
  it('steps apply in order: turn, then move', () => {
    const at = move(
      posedFromFile([
        { id: '1', kind: 'rotate', point: [0, 0, 0], axis: [0, 0, 1], angleDeg: 90, note: '' },
        { id: '2', kind: 'move', by: [0, 0, 5], note: '' },
        { id: '3', kind: 'align', point: [0, 0, 0], from: [0, 0, 1], to: [1, 0, 0], note: '' },
      ]),
      [10, 0, 0],
    );
    // (10,0,0) -> (0,10,0) -> (0,10,5) -> Z onto X: (5,10,0).
    expect(at.map((v) => Math.round(v * 1e9) / 1e9 + 0)).toEqual([5, 10, 0]);
  });
  it('virtual tip is the corner of the two tangents: P = C + r (sx, sz)', () => {
    const mount = { origin: [0, 0, 0] as const, z: [0, 0, 1] as const, x: [1, 0, 0] as const };
    const tip = {
      id: 't',
      name: '',
      noseRadius: 0.8,
      noseCentre: [31.2, 0, 149.2] as const,
      programmedPoint: 'virtual tip' as const,
      origin: { from: 'typed' as const, evidence: '' },
    };
    expect(virtualTipOf({ ...tip, corner: { x: 1, z: 1 } }, mount).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([32, 0, 150]);
    expect(virtualTipOf({ ...tip, corner: { x: 0, z: -1 } }, mount).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([31.2, 0, 148.4]);
    expect(cornerTowards([0.7, 0.1, -0.7], mount)).toEqual({ x: 1, z: -1 });
  });
});

describe('a mount that is marked after the tip', () => {
  const tip = {
    id: 't',
    name: '',
    noseRadius: 0.4,
    noseCentre: [149.6, 0, -10.6] as const,
    programmedPoint: 'virtual tip' as const,
    origin: { from: 'picked' as const, evidence: '' },
  };
  const mount = {
    ...(plain.mount as NonNullable<ComponentRecord['mount']>),
    frame: { origin: [0, 0, 0] as const, z: [1, 0, 0] as const, x: [0, 0, -1] as const },
  };
  it('turns the side of the corner with it', () => {
    const before = { mount: null, tips: [{ ...tip, corner: { x: 1 as const, z: -1 as const } }] };
    const after = withMount(before, mount);
    expect(after.tips[0].corner).toEqual({ x: 1, z: 1 });
    expect(withMount(after, null).tips[0].corner).toEqual({ x: 1, z: -1 });
  });
  it('keeps the picked direction where the first frame could not tell it', () => {
    // In this frame the corner points along Y, which has no side.
    const flat = { ...mount, frame: { origin: [0, 0, 0] as const, z: [0, 0, 1] as const, x: [1, 0, 0] as const } };
    const picked = { mount: flat, tips: [{ ...tip, corner: { x: 0 as const, z: 0 as const }, towards: [0, 1, 0] as const }] };
    expect(withMount(picked, { ...flat, frame: { origin: [0, 0, 0], z: [0, 1, 0], x: [1, 0, 0] } }).tips[0].corner).toEqual({ x: 0, z: 1 });
  });
});

describe('package files', () => {
  const manifest = {
    format: 'ruota-package' as const,
    version: 1,
    name: 'a',
    createdAt: '',
    unit: 'mm' as const,
    gaugeLength: null,
    tips: [],
    pieces: [],
    checks: [],
    assembly: { version: ASSEMBLY_VERSION },
    components: [],
    outlines: [],
    sources: {},
    drawings: {},
  };
  const whole = writePackage(manifest, { 'a/b.stl': Uint8Array.of(1, 2, 3) });
  const code = (bytes: Uint8Array) => {
    const r = readPackage(bytes, 'p.zip');
    return r.ok ? 'ok' : r.issues[0].code;
  };
  const zipOf = (files: Record<string, unknown>) =>
    zipSync(Object.fromEntries(Object.entries(files).map(([k, v]) => [k, v instanceof Uint8Array ? v : strToU8(JSON.stringify(v))])));

  it('come back with every file', () => {
    const r = readPackage(whole, 'p.zip');
    expect(r.ok && [...r.value.files['a/b.stl']]).toEqual([1, 2, 3]);
  });
  it('are the same bytes for the same content', () => {
    expect(hashBytes(writePackage(manifest, { 'a/b.stl': Uint8Array.of(1, 2, 3) }))).toBe(hashBytes(whole));
  });
  it.each([
    ['empty', new Uint8Array(0), 'file.empty'],
    ['no zip', strToU8('hello there'), 'package.not-zip'],
    ['cut off', whole.subarray(0, whole.length / 2), 'package.not-zip'],
    ['without a manifest', zipOf({ 'x.txt': 'x' }), 'package.no-manifest'],
    ['with a manifest that is no JSON', zipSync({ 'manifest.json': strToU8('{"a":') }), 'package.bad-manifest'],
    ['with a manifest of another shape', zipOf({ 'manifest.json': { ...manifest, gaugeLength: 'long', files: [] } }), 'package.bad-manifest'],
    [
      'with a path that leads out',
      zipOf({ 'manifest.json': { ...manifest, files: [{ path: '../../etc/passwd', sha256: HASH, bytes: 1 }] } }),
      'package.bad-manifest',
    ],
    ['with a file missing', zipOf({ 'manifest.json': { ...manifest, files: [{ path: 'a.stl', sha256: HASH, bytes: 1 }] } }), 'package.missing-file'],
    [
      'with a file changed',
      zipOf({ 'a.stl': Uint8Array.of(9), 'manifest.json': { ...manifest, files: [{ path: 'a.stl', sha256: HASH, bytes: 1 }] } }),
      'package.changed-file',
    ],
    ['of a newer version', zipOf({ 'manifest.json': { ...manifest, version: 7, files: [] } }), 'package.newer'],
  ])('%s: refused', (_, bytes, expected) => expect(code(bytes)).toBe(expected));

  it('that unpack to too much are stopped on the way', () => {
    const bomb = zipSync({ 'manifest.json': new Uint8Array(30e6) });
    expect(bomb.length).toBeLessThan(100_000);
    const r = unzipWithLimit(bomb, 'bomb.zip', 5e6);
    expect(!r.ok && r.issues[0].code).toBe('package.bomb');
  });
});

describe('safeFileName', () => {
  it.each([
    ['../../etc/passwd', 'etc-passwd'],
    ['<img src=x onerror=alert(1)>', 'img-src-x-onerror-alert-1'],
    ['=HYPERLINK("x")', 'HYPERLINK-x'],
    ['', 'unnamed'],
    ['...', 'unnamed'],
    ['Hülse 32/16', 'Hu-lse-32-16'],
  ])('%s becomes %s', (name, expected) => expect(safeFileName(name)).toBe(expected));
});

describe('trials of an older version', () => {
  it('were held in the chuck only, and had one zero and one program', () => {
    const old = {
      kind: 'trial',
      version: 1,
      id: 't',
      name: 'Old',
      setUpId: 's',
      spindle: 'main',
      zero: 60,
      contour: null,
      stock: null,
      program: { name: 'p.nc', text: 'M30' },
      clearance: 0.5,
      tolerance: 0.005,
      createdAt: '',
      changedAt: '',
    };
    const { program, ...rest } = old;
    expect(readRecord(old, 'old.json')).toEqual({
      ok: true,
      value: { ...rest, version: 5, support: null, zeros: {}, programs: [{ ...program, carrier: null }] },
    });
    expect(readRecord({ ...old, version: 2, support: { kind: 'tailstock', hole: -1, body: 30, at: 0 } }, 'bad.json').ok).toBe(false);
    expect(readRecord({ ...old, version: 3, support: null, zeros: { G55: -80 } }, 'zeros.json').ok).toBe(true);
    expect(readRecord({ ...old, version: 3, support: null, zeros: { G54: 1 } }, 'own.json').ok).toBe(false);
    expect(readRecord({ ...old, version: 6 }, 'newer.json').ok).toBe(false);
  });
});

it('a machine of an older version gets the usual marks at which channels wait', () => {
  // As it was written before: its control knows no marks.
  const old = JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/hub-mill-turn.json'), 'utf8')) as { version: number; control: object };
  expect(old.version).toBe(1);
  const read = readRecord(old, 'old.json');
  expect(read.ok && read.value).toMatchObject({ kind: 'machine', version: 3, control: { ...old.control, waits: [100, 199] } });
  expect(readRecord({ ...old, version: 2, control: { ...old.control, waits: [199, 100] } }, 'turned.json').ok).toBe(false);
  expect(readRecord({ ...old, version: 2, control: { ...old.control, waits: [3, 100] } }, 'iso.json').ok).toBe(false);
});
