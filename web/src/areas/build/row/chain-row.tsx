import { UnstyledButton } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import type { ReactNode } from 'react';
import { useMemo } from 'react';
import { dimensionsTo, gaugeLineAt, pathTo, type PlacedTip } from '#core/assembly';
import { frameFromWorld, move } from '#core/math';
import type { Model } from '#core/mesh';
import { type AssemblyRecord, type ComponentRecord, mountFrameOf, type Piece } from '#core/records';
import { sayConnection } from '#core/standards';
import { formatLength, type LengthUnit } from '#core/units';
import { pathOfPoints } from '../../../section/drawing-parts.tsx';
import type { Tried } from '../tried.ts';
import { Instead } from './instead.tsx';
import { type Silhouette, useSilhouettes } from './use-silhouettes.ts';

interface Props {
  /** As it is kept, and as it is shown: with what is tried. */
  readonly kept: AssemblyRecord;
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly models: Readonly<Record<string, Model | undefined>>;
  /** The edge whose way is shown; without one the way to the last piece. */
  readonly tip: PlacedTip | undefined;
  readonly selected: string | null;
  readonly onSelect: (piece: string | null) => void;
  readonly onTry: (tried: Tried) => void;
  readonly tools: ReactNode;
  readonly unit: LengthUnit;
}

// Pixels: around the row and between two pieces, of a piece at least, above and below it, and of what could stand instead.
const [AROUND, GAP, LEAST, ABOVE, BELOW, INSTEAD] = [20, 26, 104, 34, 62, 92];
// A line for what else sits on a piece.
const OTHER = 18;
// A piece that is chosen is lifted out by so much.
const LIFT = 10;

/** The chain as a row from the machine to the work, each piece by itself, all to one scale; what could stand instead of the chosen one below it. */
export function ChainRow({ kept, record, components, models, tip, selected, onSelect, onTry, tools, unit }: Props) {
  const { ref, width, height } = useElementSize<HTMLDivElement>();
  const path = useMemo(() => {
    const toEdge = tip ? pathTo(record.pieces, tip.piece) : [];
    const isOnIt = selected === null || toEdge.some((p) => p.id === selected);
    const way = toEdge.length > 0 && isOnIt ? toEdge : pathTo(record.pieces, selected ?? record.pieces.at(-1)?.id ?? '');
    return way.filter((p) => components[p.componentId]);
  }, [record.pieces, components, tip, selected]);
  const used = useMemo(() => path.map((p) => components[p.componentId]), [path, components]);
  const silhouettes = useSilhouettes(used, models);
  const lengths = useMemo(() => (tip ? dimensionsTo(record, components, tip).parts : []), [record, components, tip]);
  const boxes = used.map((c) => silhouettes[c.id]?.box ?? NO_BOX);
  const line = gaugeLineAt(record, components);
  const isGaugeLineAt = (piece: Piece) => (line ? line.piece === piece.id : !piece.parent);
  const gaugeZ = (component: ComponentRecord) => (line ? move(frameFromWorld(mountFrameOf(component)), line.place)[2] : 0);
  const chosen = kept.pieces.find((p) => p.id === selected);
  const sitsOn = (piece: Piece, i: number) => record.pieces.filter((p) => p.parent?.pieceId === piece.id && p.id !== path[i + 1]?.id);
  const most = Math.max(0, ...path.map((p, i) => sitsOn(p, i).length));
  const high = height - ABOVE - BELOW - most * OTHER - (chosen ? INSTEAD : 0) - LIFT;
  const [low, up] = [Math.min(-1, ...boxes.map((b) => b[2])), Math.max(1, ...boxes.map((b) => b[3]))];
  const scale = scaleFor(boxes, width - 2 * AROUND - GAP * (boxes.length - 1), Math.max(20, high), up - low);
  return (
    <div className="strip chain-row" ref={ref}>
      {width > 0 && (
        <ol style={{ paddingTop: ABOVE, gap: GAP }} aria-label="The chain from the machine to the work">
          {path.map((piece, i) => {
            const component = used[i];
            const seen = silhouettes[component.id];
            const wide = Math.max(LEAST, (boxes[i][1] - boxes[i][0]) * scale);
            const own = lengths.filter((l) => l.piece === piece.id);
            return (
              <li key={piece.id} style={{ width: wide }}>
                <UnstyledButton
                  className="row-piece"
                  aria-pressed={piece.id === selected}
                  aria-label={`${component.name}, piece ${i + 1} of ${path.length}`}
                  onClick={() => onSelect(piece.id === selected ? null : piece.id)}
                >
                  <svg width={wide} height={(up - low) * scale + LIFT} aria-hidden>
                    <g transform={`translate(${wide / 2 - ((boxes[i][0] + boxes[i][1]) / 2) * scale} ${up * scale + (piece.id === selected ? 0 : LIFT)})`}>
                      <line x1={boxes[i][0] * scale - 10} x2={boxes[i][1] * scale + 10} y1={0} y2={0} className="centre-line" />
                      {seen && <Seen seen={seen} scale={scale} />}
                      {isGaugeLineAt(piece) && (
                        <line
                          x1={gaugeZ(component) * scale}
                          x2={gaugeZ(component) * scale}
                          y1={-boxes[i][3] * scale - 8}
                          y2={-boxes[i][2] * scale + 8}
                          className="gauge-line"
                        />
                      )}
                    </g>
                  </svg>
                  <span className="row-piece-name">{component.name}</span>
                </UnstyledButton>
                <span className="number row-piece-length">{own.map((l) => `${l.axis} ${formatLength(Math.abs(l.to - l.from), unit)}`).join('  ') || '–'}</span>
                {i > 0 && component.mount && <span className="number row-joint">{sayConnection(component.mount.connection)}</span>}
                {sitsOn(piece, i).map((o) => (
                  <UnstyledButton key={o.id} className="row-other" onClick={() => onSelect(o.id)}>
                    also {components[o.componentId]?.name}
                  </UnstyledButton>
                ))}
              </li>
            );
          })}
        </ol>
      )}
      {chosen && <Instead key={chosen.id} {...{ components, unit, onTry }} record={kept} piece={chosen} />}
      <div className="strip-tools">{tools}</div>
    </div>
  );
}

// mm: of what is not there yet.
const NO_BOX: Silhouette['box'] = [0, 30, -10, 10];

// Pixels a mm: the widest that lets all stand beside each other, small ones having room for their names.
function scaleFor(boxes: readonly Silhouette['box'][], width: number, height: number, tall: number): number {
  let scale = height / tall;
  const wideAt = (s: number) => boxes.reduce((sum, b) => sum + Math.max(LEAST, (b[1] - b[0]) * s), 0);
  for (let i = 0; i < 60 && wideAt(scale) > width; i++) scale *= 0.95;
  return Math.max(0.02, scale);
}

const pathOf = (loops: readonly Float64Array[], scale: number): string =>
  loops
    .map((p) =>
      pathOfPoints(
        p,
        (z) => z * scale,
        (x) => -x * scale,
      ),
    )
    .join('');

const Seen = ({ seen, scale }: { seen: Silhouette; scale: number }) => (
  <>
    <path d={pathOf(seen.body, scale)} className="cut cut-tool-body" fillRule="evenodd" />
    <path d={pathOf(seen.cutting, scale)} className="cut cut-cutting" fillRule="evenodd" />
  </>
);
