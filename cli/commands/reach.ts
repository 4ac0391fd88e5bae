import { basename } from 'node:path';
import { IssueError, issue, say } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { roundTo } from '#core/math';
import type { FlatPoint } from '#core/outline';
import { type Reach, reachOf, type Residual, sayMissing, trialSetting } from '#core/trial';
import type { CommandOutput, CommandRequest } from '../request.ts';
import { table } from '../table.ts';
import { number } from './io.ts';
import { readTrial } from './trial-input.ts';

export async function reach(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'reach' }): Promise<CommandOutput> {
  const cooked = await readTrial(kernel, bytes, request);
  const found = reachOf(trialSetting(cooked.parts, cooked.job));
  if (!found)
    throw new IssueError([
      issue('record.bad', { file: basename(request.file), field: 'contour', text: 'it takes a contour, and a stock or a blank in that spindle' }),
    ]);
  return {
    json: {
      length: roundTo(found.length, 4),
      edges: found.edges.map((e) => ({
        edge: e.edge,
        angle: e.angle ?? null,
        reached: e.reached.map((s) => ({ from: roundTo(s.from, 3), to: roundTo(s.to, 3) })),
        blocked: e.blocked.map((s) => ({ from: roundTo(s.from, 3), to: roundTo(s.to, 3), why: s.why, by: s.by, at: tidy(s.at) })),
        residual: tellResidual(e.residual),
        ...(e.bore
          ? {
              minimumBore: {
                deepest: tidy(e.bore.deepest),
                ...(e.bore.least ? { room: roundTo(e.bore.least.room, 4), at: roundTo(e.bore.least.z, 4) } : {}),
                along: e.bore.along.map((b) => ({ z: roundTo(b.z, 4), diameter: roundTo(b.asked, 4), bore: roundTo(b.bore, 4) })),
              },
            }
          : {}),
      })),
      together: { residual: tellResidual(found.together) },
      order: found.order.map((i) => found.edges[i].edge),
      missing: found.missing.map((m) => ({
        ...m,
        at: tidy(m.at),
        thickness: roundTo(m.thickness, 4),
        width: m.width === undefined ? null : roundTo(m.width, 4),
        text: sayMissing(m),
      })),
    },
    text: reachTable(found),
    warnings: cooked.warnings.map(say),
    checkFailed: false,
  };
}

const tidy = (p: FlatPoint) => p.map((v) => roundTo(v, 4) + 0);
const tellResidual = ({ area, volume, thickness, at }: Residual) => ({
  area: roundTo(area, 4),
  volume: roundTo(volume, 3),
  thickness: roundTo(thickness, 4),
  at: tidy(at),
});

const reachTable = ({ edges, together, length, order, missing }: Reach) =>
  [
    table(
      ['edge', 'along', '', 'by'],
      edges.flatMap((e) =>
        [...e.reached.map((s) => ({ ...s, why: 'reached', by: '' })), ...e.blocked]
          .sort((a, b) => a.from - b.from)
          .map((s) => [e.edge, `${number(s.from)} to ${number(s.to)}`, s.why, s.by]),
      ),
    ),
    `of ${number(length)} mm of contour; together they leave ${number(together.area)} mm2, ${number(together.thickness)} mm thick at most`,
    ...edges.flatMap((e) =>
      e.bore
        ? [
            `${e.edge} gets into the bore to Z ${number(e.bore.deepest[0])}${e.bore.least ? `, with ${number(e.bore.least.room)} of room at Z ${number(e.bore.least.z)}` : ''}`,
          ]
        : [],
    ),
    ...(order.length > 0 ? [`taken in the order ${order.map((i) => edges[i].edge).join(', ')}`] : []),
    ...missing.map((m) => `missing: ${sayMissing(m)}${m.wouldDo.length > 0 ? `; would do: ${m.wouldDo.slice(0, 3).join(', ')}` : ''}`),
  ].join('\n');
