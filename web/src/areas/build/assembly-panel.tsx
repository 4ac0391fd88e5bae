import { type PlacedTip } from '#core/assembly';
import { type AssemblyRecord, type Check, worstOf } from '#core/records';
import { CheckList } from '../../common/check-list.tsx';
import { CompareLine } from './compare/compare-line.tsx';
import { TriedLine } from './chain/tried-line.tsx';
import { type ChainProps, PieceRow } from './chain/piece-row.tsx';
import { BoreBlock } from './numbers/bore-block.tsx';
import { EdgesTable } from './numbers/edges-table.tsx';
import { NumbersBlock } from './numbers/numbers-block.tsx';
import type { Tried } from './tried.ts';

interface PanelProps extends Omit<ChainProps, 'record' | 'isTrying'> {
  /** As it is kept, and as it is shown: with what is tried. */
  readonly kept: AssemblyRecord;
  readonly record: AssemblyRecord;
  readonly tried: Tried | null;
  readonly onTriedEnd: () => void;
  /** What it is compared with: another assembly, or what is kept while something is tried. */
  readonly compared: AssemblyRecord | undefined;
  readonly onCompare: (id: string | null) => void;
  readonly tips: readonly PlacedTip[];
  readonly checks: readonly Check[];
  readonly onPickPoint: (tip: PlacedTip) => void;
  readonly onPickGaugeLine: () => void;
  /** Whether it is still being looked at what touches and what goes through what. */
  readonly isLooking: boolean;
}

/** The assembly from the machine outwards: numbers, edges, pieces, free seats, and checks. */
export function AssemblyPanel({
  kept,
  record,
  tried,
  onTriedEnd,
  compared,
  onCompare,
  onPickPoint,
  onPickGaugeLine,
  tips,
  checks,
  isLooking,
  ...chain
}: PanelProps) {
  const { components, models, unit } = chain;
  // What is tried is looked at beside what is kept; what is slid is followed.
  const chained = tried ? kept : record;
  const roots = chained.pieces.filter((p) => !p.parent);
  const worst = worstOf(checks);
  return (
    <div className="ledger" role="region" aria-label="Assembly">
      {tried && <TriedLine tried={tried} onEnd={onTriedEnd} />}
      <NumbersBlock
        {...{ record, components, models, unit }}
        before={compared}
        names={tried ? ['before', 'tried'] : [compared?.name ?? '', 'this']}
        isFixed={tried !== null}
        onPickGaugeLine={onPickGaugeLine}
      />
      {!tried && <CompareLine record={kept} compared={compared} onCompare={onCompare} />}
      <EdgesTable {...{ record, components, tips, unit, onPickPoint }} isFixed={tried !== null} />
      <BoreBlock {...{ record, components, models, unit }} />
      <h2>Pieces</h2>
      {roots.map((piece) => (
        <PieceRow key={piece.id} {...chain} record={chained} isTrying={tried !== null} piece={piece} depth={0} />
      ))}
      <h2>
        Checks{' '}
        <span className={`check-sum ${worst}`}>
          {worst === 'pass' ? `all ${checks.length} pass` : `${checks.filter((c) => c.state !== 'pass').length} to look at`}
          {isLooking ? ', looking at what touches' : ''}
        </span>
      </h2>
      <CheckList checks={checks} />
    </div>
  );
}
