import { Button, TextInput } from '@mantine/core';
import { IconKeyboard } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { makeComponent, readWords, sayUnmade, type ValueName, VALUES } from '#core/components';
import { sayConnection } from '#core/standards';
import { selectAddingTo, selectComponent, selectIsReading, useAppSelector } from '../../app/store.ts';
import { placeOf } from '../../common/place-of.ts';
import { sayValue } from '../../common/say-value.ts';
import { ShapePicture } from '../../pictures/shape-picture.tsx';
import { addOfData } from '../../store/data-actions.ts';

/** A tool by what is printed on its box: understood while it is typed, put on the Shelf by Enter. */
export function TypeLine() {
  const unit = useAppSelector((s) => s.session.unit);
  const set = useAppSelector(selectAddingTo);
  const [added, setAdded] = useState<string | null>(null);
  const last = useAppSelector((s) => selectComponent(s, added ?? undefined));
  const [text, setText] = useState('');
  // Its name may be taken by what is not read yet.
  const isReading = useAppSelector(selectIsReading);
  const read = useMemo(() => readWords(text, unit), [text, unit]);
  const made = useMemo(() => read.spec && makeComponent(read.spec), [read]);
  const isSaid = text.trim() !== '';
  const part = made?.ok && read.unknown.length === 0 ? made.part : undefined;
  const add = () => {
    if (!part || !read.spec) return;
    setAdded(addOfData(read.spec, part, set, read.use));
    setText('');
  };
  return (
    <div className="type-line" inert={isReading}>
      <TextInput
        leftSection={<IconKeyboard size={16} />}
        placeholder="Type a tool: CNMG 120408, drill 8.5 x 110, M8 tap, end mill 12 r1, collet ER32 d10, sleeve 32 to 16"
        aria-label="Type a tool"
        value={text}
        maxLength={200}
        onChange={(e) => setText(e.currentTarget.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') add();
          if (e.key === 'Escape') setText('');
        }}
        rightSectionWidth={86}
        rightSection={
          <Button size="compact-xs" disabled={!part} onClick={add}>
            Add it
          </Button>
        }
      />
      {!isSaid && last && (
        <p className="typed-last" role="status">
          <b>{last.name}</b> is on the Shelf. <Link to={placeOf(last)}>Open it on the Bench</Link>, or type the next one.
        </p>
      )}
      {isSaid && (
        <div className="typed" role="status" aria-label="What was understood">
          <div className="typed-picture">{made?.ok ? <ShapePicture shape={made.part.shape} /> : <span className="picture-wait" />}</div>
          <div className="typed-words">
            <p className="typed-name">{made?.ok ? made.part.name : (read.spec?.kind ?? 'no kind yet')}</p>
            <p>
              {read.understood.map((u, i) => (
                <span key={i} className="typed-chip" title={u.text}>
                  {u.text} <span className="ledger-hint">{u.as}</span>
                </span>
              ))}
            </p>
            {read.unknown.map((u) => (
              <p key={u.at} className="ledger-hint warn">
                “{u.text}”: {u.why}
              </p>
            ))}
            {!read.spec && <p className="ledger-hint">Say what it is: a designation, or drill, reamer, tap, end mill, countersink, collet, sleeve …</p>}
            {made &&
              !made.ok &&
              sayUnmade(made).map((t) => (
                <p key={t} className="ledger-hint warn">
                  {t}
                </p>
              ))}
            {made?.ok && made.part.mount && <p className="ledger-hint">mount {sayConnection(made.part.mount.connection)}</p>}
          </div>
          {made?.ok && (
            <dl className="typed-facts">
              {(Object.entries(made.part.values) as [ValueName, number][]).map(([name, value]) => {
                const assumed = made.part.assumed.find((a) => a.name === name);
                const derived = made.part.derived.find((d) => d.name === name);
                return (
                  <div key={name} title={assumed ? `assumed: ${assumed.why}` : derived ? derived.formula : 'given'}>
                    <dt>
                      <span className="fact-code">{name}</span> {VALUES[name].meaning}
                    </dt>
                    <dd className={assumed ? 'assumed' : ''}>
                      {sayValue(name, value, unit)}
                      {assumed && <span className="ledger-hint"> assumed</span>}
                    </dd>
                  </div>
                );
              })}
            </dl>
          )}
        </div>
      )}
    </div>
  );
}
