import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { makeComponent, readWords } from '#core/components';
import type { ComponentRecord } from '#core/records';
import { entryOf } from '#core/shelf';
import { type Reach, sayMissing, suitsMissing } from '#core/trial';
import { selectComponents, useAppSelector } from '../../app/store.ts';
import { placeOf } from '../../common/place-of.ts';
import { addOfData } from '../../store/data-actions.ts';

type Missing = Reach['missing'][number];

interface Props {
  readonly missing: readonly Missing[];
  readonly isHead: boolean;
  /** What is loaded already, by component: it does not do it as it stands. */
  readonly loaded: Readonly<Record<string, unknown>>;
  /** Of the set-up that is tried. */
  readonly setUpId: string;
}

// Of the Shelf, for one piece that is left.
const MOST = 4;

/** What no loaded edge gets to, as the tool that would: what of the Shelf could do it, and what can be made of data. */
export function MissingList({ missing, isHead, loaded, setUpId }: Props) {
  const all = useAppSelector(selectComponents);
  const components = useMemo(() => all.filter((c) => loaded[c.id] === undefined), [all, loaded]);
  return (
    <ul className="checks" aria-label="What is missing">
      {missing.map((m) => (
        <li key={m.at.join()} className="warn">
          <span className="ledger-mark warn" role="img" aria-label="warn" />
          <div>
            Missing: {sayMissing(m)}
            {isHead ? '; or another angle of the head' : ''}.
            <WouldDo missing={m} components={components} setUpId={setUpId} />
          </div>
        </li>
      ))}
    </ul>
  );
}

function WouldDo({ missing, components, setUpId }: { missing: Missing; components: readonly ComponentRecord[]; setUpId: string }) {
  const [made, setMade] = useState<string>();
  const found = useMemo(() => components.filter((c) => couldDo(c, missing)), [components, missing]);
  const offered = useMemo(
    () =>
      missing.wouldDo
        .filter((words) => !found.some((c) => isCalled(c, words)))
        .flatMap(madeOf)
        .slice(0, 2),
    [missing, found],
  );
  const isMade = found.some((c) => c.id === made);
  return (
    <div className="would-do">
      {found.length > 0 && (
        <p>
          On the Shelf:{' '}
          {found.slice(0, MOST).map((c, i) => (
            <span key={c.id}>
              {i > 0 && ', '}
              <Link className="soft-link" to={placeOf(c)}>
                {c.name}
              </Link>
            </span>
          ))}
          {found.length > MOST && ` and ${found.length - MOST} more`}.{' '}
          <Link className="soft-link" to={`/carrier/${setUpId}`}>
            Load it in Carrier
          </Link>
        </p>
      )}
      {!isMade &&
        offered.map(({ words, spec, part, use }) => (
          <Button key={words} size="compact-xs" variant="default" onClick={() => setMade(addOfData(spec, part, null, use))}>
            Make {words}
          </Button>
        ))}
      {isMade && <p role="status">It is on the Shelf now; load it to see what it reaches.</p>}
    </div>
  );
}

// What words make; nothing where they cannot.
function madeOf(words: string) {
  const { spec, use } = readWords(words);
  const made = spec && makeComponent(spec);
  return spec && made?.ok ? [{ words, spec, part: made.part, use }] : [];
}

function couldDo(component: ComponentRecord, missing: Missing): boolean {
  if (component.componentKind !== (missing.isInside ? 'boring bar' : 'turning tool')) return false;
  const { values, hand } = entryOf(component);
  const { KAPR, EPSR } = values;
  return KAPR !== undefined && EPSR !== undefined && hand !== null && suitsMissing({ enteringAngle: KAPR, includedAngle: EPSR, hand }, missing);
}

const plain = (text: string) => text.replaceAll(' ', '').toUpperCase();
const isCalled = (c: ComponentRecord, words: string) => [c.name, c.designation].some((t) => plain(t).startsWith(plain(words)));
