import { beforeAll, describe, expect, it } from '@jest/globals';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { SHIPPED_MACHINES } from '#core/carrier';
import { say } from '#core/issues';
import { type Kernel, loadKernel } from '#core/kernel';
import { hashBytes, type SetUpManifest, TRIAL_VERSION, type TrialRecord } from '#core/records';
import { answerTrial } from '#core/trial';
import { type CookedSetUp, cookSetUp, openAnyPackage, openPackage, packSetUp, readSetUp, recordsOfSetUp, trialOfPackage, verifyPackage } from './index.ts';
import { OUTSIDE, place } from './trial-for-tests.ts';

const FACE = 'G18 G21 G90 G95\nG97 S800 M3\nT0101\nG0 X64 Z1\nG1 X-1 F0.2\nG0 Z5\nG0 X200 Z100\nM30\n';
const NOW = '2026-01-01T00:00:00Z';
const trialOf = (name: string, text: string): TrialRecord => ({
  kind: 'trial',
  version: TRIAL_VERSION,
  id: `trial ${name}`,
  name,
  setUpId: 'set-up',
  spindle: 'main',
  zero: 68,
  zeros: {},
  contour: null,
  stock: null,
  support: null,
  programs: [{ name: 'face.nc', text, carrier: null }],
  clearance: 0.5,
  tolerance: 0.005,
  createdAt: NOW,
  changedAt: NOW,
});

let kernel: Kernel;
let cooked: CookedSetUp;
let bytes: Uint8Array;
const trials = [trialOf('Face', FACE), trialOf('Face again', FACE.replace('X-1', 'X-2'))];
beforeAll(async () => {
  kernel = await loadKernel();
  const file = { ...OUTSIDE.setUp, places: [place('turning', 1), place('turning', 2, { turn: 180, spindle: 'counter' }), place('left', 3)] };
  const said = { ...file, assemblies: [...file.assemblies, { key: 'left', words: 'dclnl 2525 m12' }] };
  const read = await cookSetUp(kernel, JSON.stringify(said), 'set-up.json', () => new Uint8Array(0), { now: NOW });
  if (!read.ok) throw new Error(read.issues.map(say).join());
  cooked = read.value;
  const packed = await packSetUp(kernel, { ...cooked, trials, now: NOW });
  if (!packed.ok) throw new Error(packed.issues.map(say).join());
  ({ bytes } = packed.value);
});

// Manifest and files replaced and the hashes put right again, as a careful forger would.
function forged(change: (manifest: SetUpManifest, files: Record<string, Uint8Array>) => void): Uint8Array {
  const inside = unzipSync(bytes);
  const manifest = JSON.parse(strFromU8(inside['manifest.json'])) as SetUpManifest;
  change(manifest, inside);
  for (const f of manifest.files) (f as { sha256: string }).sha256 = hashBytes(inside[f.path]);
  return zipSync({ ...inside, 'manifest.json': strToU8(JSON.stringify(manifest)) });
}
const failsOf = async (forgery: Uint8Array) => {
  const verified = await verifyPackage(kernel, forgery, 'forged.zip');
  if (!verified.ok) return verified.issues.map(say);
  return verified.value.checks.filter((c) => c.state === 'fail').map((c) => `${c.code}: ${c.message}`);
};
const refusal = (forgery: Uint8Array) => {
  const opened = openAnyPackage(forgery, 'forged.zip');
  return opened.ok ? 'opened' : say(opened.issues[0]);
};

describe('the package of a set-up', () => {
  it('holds each assembly once, in its gauge frame, with what they share only once, and the programs as text', () => {
    const inside = unzipSync(bytes);
    const manifest = JSON.parse(strFromU8(inside['manifest.json'])) as SetUpManifest;
    expect(manifest.assemblies.map((a) => a.name)).toEqual([cooked.assemblies.turning.name, cooked.assemblies.left.name]);
    expect(new Set(Object.values(manifest.sources)).size).toBe(2);
    const [turning] = manifest.assemblies;
    expect(turning.pieces[0].parts.map((p) => p.target)).toEqual(['non-cutting', 'cutting']);
    for (const { files } of turning.pieces[0].parts) expect(Object.values(files).every((path) => path.startsWith('assemblies/1-') && inside[path])).toBe(true);
    const [first, second] = trials.map((t) => manifest.programs[t.id][0]);
    expect(strFromU8(inside[first])).toBe(FACE);
    expect(strFromU8(inside[second])).toContain('X-2');
    // The holder of 25 by 25 stands at station 1 and, upside down for the other spindle, at station 2.
    expect((manifest.told.stations as { station: number }[]).map((s) => s.station)).toEqual([1, 2, 3]);
  });

  it('verifies from its own files, and is read again as the same set-up', async () => {
    expect(await failsOf(bytes)).toEqual([]);
    const read = await readSetUp(kernel, bytes, 'job.zip', () => new Uint8Array(0), { now: NOW });
    if (!read.ok) throw new Error(read.issues.map(say).join());
    expect(read.value.setUp).toEqual(cooked.setUp);
    expect(read.value.machine).toEqual(cooked.machine);
    expect(read.value.trials).toEqual(trials);
    const run = (parts: CookedSetUp) => {
      const answer = answerTrial(parts, trials[0]);
      return 'faults' in answer && answer.faults ? answer.faults.map(say) : [answer.time, answer.removedVolume, answer.events];
    };
    expect(run(read.value)).toEqual(run(cooked));
    // A face of 2 mm of a bar of 60, down to what the nose leaves in the middle.
    expect(run(cooked)[1]).toBeCloseTo(Math.PI * 30 * 30, -2);
  });

  it('gives its records to a Shelf: all but a machine that ships as it is', () => {
    const opened = openAnyPackage(bytes, 'job.zip');
    if (!opened.ok || opened.value.kind !== 'set-up') throw new Error('not opened');
    const kinds = (records: object) => Object.values(records as Record<string, { kind: string }>).map((r) => r.kind);
    const { records, blobs } = recordsOfSetUp(opened.value);
    expect(kinds(records).sort()).toEqual(['assembly', 'assembly', 'component', 'component', 'machine', 'set-up', 'trial', 'trial']);
    for (const r of Object.values(records)) if (r.kind === 'component') expect(blobs[r.source.blob]).toBeDefined();
    expect(kinds(recordsOfSetUp({ ...opened.value, machine: SHIPPED_MACHINES[0] }).records)).not.toContain('machine');
  });

  it('finds what was changed in it', async () => {
    const told = (m: SetUpManifest) => (m.told.stations as { edges: { Z: number }[] }[])[1].edges[0];
    expect(
      await failsOf(
        forged((m) => {
          told(m).Z += 0.01;
        }),
      ),
    ).toEqual(['set-up: What is told of the stations differs at told.stations.1.edges.0.Z from what follows from the records.']);
    expect(
      await failsOf(
        forged((m, files) => {
          files[m.programs[trials[1].id][0]] = strToU8('M30');
        }),
      ),
    ).toEqual(['programs: A program is not that of its trial: Face again, program 1.']);
    const lower = await failsOf(
      forged((m) => {
        const [, left] = m.assemblies;
        (left.tips[0] as { L: number }).L -= 0.1;
      }),
    );
    expect(lower).toEqual([expect.stringMatching(/^numbers: .*DCLNL.*: L of .* differs from what follows from the frames by 0\.1000 mm\.$/i)]);
  }, 120_000);

  it('is refused with the place where it does not hold together', () => {
    const setUpOf = (m: SetUpManifest) => m.setUp as { machineId: string; places: { id: string; assemblyId: string }[] };
    const stranger = (m: SetUpManifest) => {
      setUpOf(m).places[0].assemblyId = 'gone';
    };
    expect(refusal(forged(stranger))).toContain('setUp.places.place-1');
    expect(refusal(forged((m) => void (setUpOf(m).machineId = 'other')))).toContain('setUp.machineId');
    expect(refusal(forged((m) => void m.components.pop()))).toContain('assemblies.1.pieces');
    expect(refusal(forged((m) => void ((m.machine as { kind: string }).kind = 'set')))).not.toBe('opened');
    expect(refusal(forged((m) => void ((m as { version: number }).version = 99)))).toContain('newer version');
    expect(
      refusal(
        forged((m, files) => {
          delete files[m.programs[trials[0].id][0]];
          (m.files as unknown[]) = m.files.filter((f) => files[f.path]);
        }),
      ),
    ).toContain('programs/1-Face/face.nc');
    const asOne = openPackage(bytes, 'job.zip');
    expect(asOne.ok ? '' : say(asOne.issues[0])).toContain('package of a set-up');
  });

  it('is not written of nothing, or of what is gone', async () => {
    const empty = await packSetUp(kernel, { ...cooked, setUp: { ...cooked.setUp, places: [] }, trials, now: NOW });
    expect(empty.ok ? '' : say(empty.issues[0])).toContain('Nothing stands in');
    const lost = await packSetUp(kernel, { ...cooked, assemblies: { left: cooked.assemblies.left }, trials, now: NOW });
    expect(lost.ok ? '' : say(lost.issues[0])).toContain('station 1');
  });

  it('asks which trial is meant', async () => {
    const unsure = await trialOfPackage(kernel, bytes, 'job.zip');
    expect(unsure.ok ? '' : say(unsure.issues[0])).toContain('Face, Face again');
    const named = await trialOfPackage(kernel, bytes, 'job.zip', 'Face');
    expect(named.ok && named.value.programs).toEqual(trials[0].programs);
  });
});
