import { basename, join } from 'node:path';
import {
  type AssemblyNumbers,
  checkFits,
  exchangePiece,
  findFits,
  findWays,
  numbersOf,
  type PlacedTip,
  reachAlongMount,
  type Way,
  type Ways,
} from '#core/assembly';
import { type Cooked, cookRecipe, packAssembly, readRecipe } from '#core/handover';
import { IssueError, issue, say, unwrap } from '#core/issues';
import { type Kernel, OverlapSolver } from '#core/kernel';
import { type AssemblyEdge, type AssemblyRecord, type ComponentRecord, safeFileName } from '#core/records';
import { OpenSources } from '#core/sources';
import { CONNECTION_STANDARDS, type ConnectionSize } from '#core/standards';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { threadCrew } from '../thread-crew.ts';
import { table } from '../table.ts';
import { filesBeside } from './beside.ts';
import { checkTable, giveWay, number, vector, writeOutput } from './io.ts';

export async function assemble(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'assemble' }, progress: Say): Promise<CommandOutput> {
  const whole = unwrap(readRecipe(new TextDecoder().decode(bytes), basename(request.file)));
  const wanted = [...request.swaps.map((s) => s.component), ...(request.find ? [request.find.to] : [])];
  const unknown = wanted.find((key) => !whole.components.some((c) => c.key === key));
  if (unknown !== undefined) throw new IssueError([issue('recipe.missing', { file: basename(request.file), field: 'components', text: unknown })]);
  // A recipe may describe more components than this assembly has pieces of; whoever looks for a way may need them all.
  const isUsed = (key: string) => request.find !== undefined || wanted.includes(key) || whole.pieces.some((p) => p.component === key);
  const recipe = { ...whole, components: whole.components.filter((c) => isUsed(c.key)) };
  const now = new Date().toISOString();
  const open = new OpenSources(kernel, recipe.components.length);
  const crew = threadCrew();
  const cooked = unwrap(await cookRecipe(kernel, recipe, filesBeside(request.file), { now, open, crew, giveWay, onProgress: (_, text) => progress(text) }));
  const swapped = swapAll(cooked, request.swaps);
  const { assembly } = swapped;
  const packed = unwrap(await packAssembly(kernel, { ...cooked, assembly, now, open, crew, onProgress: (_, text) => progress(text) }));
  open.close();
  const { manifest } = packed;
  const path = join(request.out, `${safeFileName(recipe.name)}.zip`);
  await writeOutput(path, packed.bytes);
  const numbers = numbersOf(assembly, cooked.components, cooked.models, request.force);
  const solver = await OverlapSolver.load();
  const fits = findFits(solver, assembly, cooked.components, cooked.models);
  solver.close();
  const checks = [...manifest.checks, ...checkFits(fits, assembly, cooked.components)];
  const tips = numbers.tips.map((t) => {
    const said = assembly.edges.find((e) => e.pieceId === t.piece && e.tipId === t.tip);
    const { pieceId: _, tipId: __, point: ___, name, ...rest }: Partial<AssemblyEdge> = said ?? {};
    return { ...t, edge: name || t.name, ...rest };
  });
  const pieces = manifest.pieces.map((p) => ({
    piece: p.piece,
    name: p.name,
    component: p.componentId,
    ...seatingOf(p.piece, assembly, cooked),
    mountInGauge: p.mountInGauge,
    parts: p.parts.map(({ profile: _, ...rest }) => rest),
  }));
  const { mass, overhang, deflection } = numbers;
  const ways = request.find ? waysOf(request.find, assembly, cooked) : undefined;
  return {
    json: {
      gaugeLength: manifest.gaugeLength,
      tips,
      pieces,
      ...(mass
        ? { mass: mass.mass, centreOfMass: mass.centreOfMass, ...(numbers.spins ? { unbalance: mass.unbalance } : {}), largestDiameter: mass.largestDiameter }
        : {}),
      ...(overhang ? { overhang } : {}),
      ...(deflection ? { deflection } : {}),
      contacts: fits.contacts.map(({ piece, on, kind, gap, tilt }) => ({ between: [piece, on], kind, gap, tilt })),
      overlaps: fits.overlaps.map(({ between, depth, volume, at }) => ({ between: between.map(({ piece, body }) => `${piece} ${body}`), depth, volume, at })),
      ...(ways ? { chains: ways.ways.map(sayWay), missing: ways.missing.map((m) => ({ through: m.through.map((t) => t.component.id), needs: m.needs })) } : {}),
      ...(swapped.notes.length > 0 ? { notes: swapped.notes } : {}),
      checks,
      package: path,
    },
    text: [tipTable(tips), numberTable(numbers), ...(ways ? [wayTable(ways)] : []), ...swapped.notes, checkTable(checks), `wrote ${path}`].join('\n'),
    warnings: cooked.warnings.map(say),
    checkFailed: checks.some((c) => c.state === 'fail'),
  };
}

// Other components in the places of pieces, one after the other.
function swapAll(
  { assembly, components, models }: Cooked,
  swaps: readonly { piece: string; component: string }[],
): { assembly: AssemblyRecord; notes: string[] } {
  const reachOf = (c: ComponentRecord) => (models[c.id] ? reachAlongMount(c, models[c.id]) : undefined);
  let now = assembly;
  const notes: string[] = [];
  for (const { piece, component } of swaps) {
    const change = unwrap(exchangePiece(now, components, piece, components[component], reachOf));
    now = { ...now, pieces: change.pieces, edges: change.edges };
    notes.push(...change.notes, ...change.lost.map((l) => `${l.name} no longer fits and is left out: ${l.why}.`));
  }
  return { assembly: now, notes };
}

function seatingOf(id: string, assembly: AssemblyRecord, { components, models }: Cooked) {
  const piece = assembly.pieces.find((p) => p.id === id);
  const component = piece && components[piece.componentId];
  const model = component && models[component.id];
  if (!piece?.parent || !model) return { stickOut: piece?.stickOut ?? 0 };
  const [behind, front] = reachAlongMount(component, model);
  return { stickOut: piece.stickOut, standsOut: piece.stickOut + front, clamped: Math.max(0, -(behind + piece.stickOut)) };
}

// From all free seats of a piece, or from a connection in words.
function waysOf({ from, to }: { from: string; to: string }, assembly: AssemblyRecord, { components }: Cooked): Ways {
  const piece = assembly.pieces.find((p) => p.id === from);
  const others = Object.values(components);
  const seats = piece
    ? components[piece.componentId].seats
        .filter((s) => !assembly.pieces.some((p) => p.parent?.pieceId === from && p.parent.seatId === s.id))
        .map((s) => s.connection)
    : [connectionIn(from)];
  const found = seats.map((seat) => findWays(seat, components[to], piece ? others.filter((c) => c.id !== piece.componentId) : others));
  return { ways: found.flatMap((f) => f.ways), missing: found.some((f) => f.ways.length > 0) ? [] : found.flatMap((f) => f.missing) };
}

function connectionIn(text: string): ConnectionSize {
  const m = /^(.*\S)\s+(\S+)$/.exec(text.trim());
  const standard = CONNECTION_STANDARDS.find((s) => s.toLowerCase() === (m?.[1] ?? '').toLowerCase());
  if (!m || !standard) throw new IssueError([issue('recipe.missing', { file: '--find', field: 'piece or connection', text })]);
  return { standard, size: Number.isFinite(Number(m[2])) ? Number(m[2]) : m[2] };
}

const sayWay = ({ through, long, thinnest }: Way) => ({
  through: through.map((t) => t.component.id),
  length: long,
  ...(Number.isFinite(thinnest) ? { thinnest } : {}),
});

const wayTable = ({ ways, missing }: Ways): string =>
  ways.length > 0
    ? table(
        ['chain', 'length', 'thinnest'],
        ways.map((w) => [
          w.through.map((t) => t.component.name).join(' > ') || 'straight in',
          number(w.long),
          Number.isFinite(w.thinnest) ? number(w.thinnest) : '',
        ]),
      )
    : missing.map((m) => `no chain; what would make one: ${[...m.through.map((t) => t.component.name), m.needs].join(' > ')}`).join('\n');

function numberTable({ mass, spins, overhang, deflection }: AssemblyNumbers): string {
  const rows = [
    ...(mass
      ? [
          ['mass', `${mass.mass.toFixed(4)} kg`, `centre of mass at ${vector(mass.centreOfMass)}`],
          ...(spins ? [['unbalance', `${mass.unbalance.toFixed(2)} g mm`, 'about the gauge line’s Z']] : []),
          ['largest diameter', number(mass.largestDiameter), ''],
        ]
      : []),
    ...(overhang
      ? [['overhang', overhang.ratio.toFixed(2), `${number(overhang.length)} of ${overhang.diameter}; ${overhang.material}: up to ${overhang.limit} is usual`]]
      : []),
    ...(deflection ? [['gives way', `${deflection.value.toFixed(4)} mm`, `${deflection.force} N; ${deflection.formula}`]] : []),
  ];
  return table(['number', 'value', ''], rows);
}

const tipTable = (tips: readonly (PlacedTip & { readonly edge: string; readonly number?: number | undefined })[]) =>
  table(
    ['piece', 'edge', 'offset', 'L', 'Q', 'Y', 'nose radius'],
    tips.map((t) => [t.piece, t.edge, t.number === undefined ? '' : String(t.number), number(t.L), number(t.Q), number(t.Y), number(t.noseRadius)]),
  );
