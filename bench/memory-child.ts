// A million triangles made light, in a process of its own, so that what it takes can be told: prints the time and the greatest memory as JSON.
import { computeRevolvedEnvelope, flatsAround, proveEnclosure, revolveToMesh } from '#core/envelope';
import { sampledMesh } from '#core/kernel';
import { normalize } from '#core/math';
import { weld } from '#core/mesh';
import { knownHolder } from './known-holders.ts';

const axis = { origin: [3, -2, 5] as const, direction: normalize([0.2, -0.4, 1]) };
const tolerance = 0.05;
const { profile } = knownHolder(4);
// As finely divided around as a million triangles ask for.
const SAG = 0.01;
const perFlat = revolveToMesh(profile, axis, 60, SAG).triangles.length / 3 / 60;
const mesh = revolveToMesh(profile, axis, Math.round(1_000_000 / perFlat), SAG);
const body = sampledMesh(mesh);
const megabytes = () => process.resourceUsage().maxRSS / 1024;
const before = megabytes();
const start = performance.now();
const made = computeRevolvedEnvelope([body], axis, 0.3 * tolerance);
if (!made.ok) throw new Error(made.issues[0].code);
const milliseconds = performance.now() - start;
const envelope = megabytes();
const again = performance.now();
computeRevolvedEnvelope([body], axis, 0.3 * tolerance);
const warm = performance.now() - again;
const light = weld(revolveToMesh(made.value.profile, axis, flatsAround(40, 0.25 * tolerance), 0.1 * tolerance), 1e-7);
const proof = proveEnclosure({ bodies: [body], spin: { axis } }, light);
console.log(JSON.stringify({ triangles: mesh.triangles.length / 3, before, envelope, all: megabytes(), milliseconds, warm, least: proof.least }));
