import { TextInput } from '@mantine/core';
import { IconSearch } from '@tabler/icons-react';
import { memo, useState } from 'react';
import { Link } from 'react-router';
import type { AssemblyRecord, Carrier, SetUpRecord } from '#core/records';
import { sayConnection } from '#core/standards';
import { showProblem } from '../../../app/notify.tsx';
import { SmallPicture } from '../../../pictures/record-picture.tsx';
import { loadStation } from '../../../store/set-up-actions.ts';
import { useDragged } from '../drag.tsx';
import { sayPieces } from '../../../common/count-of.ts';
import { useChoices } from './choices.ts';

interface Props {
  readonly setUp: SetUpRecord;
  readonly carrier: Carrier;
  readonly station: number;
  readonly onLoaded: (station: number) => void;
}

/** The Shelf's assemblies that go into this carrier: dragged to a station, or by Enter to the chosen one, or else the next that is free. */
export const ShelfTray = memo(function ShelfTray({ setUp, carrier, station, onLoaded }: Props) {
  const [words, setWords] = useState('');
  const fitting = useChoices(carrier).filter((c) => c.why === undefined);
  const shown = fitting.filter((c) =>
    words
      .toLowerCase()
      .split(/\s+/)
      .every((w) => c.assembly.name.toLowerCase().includes(w)),
  );
  const held = new Set(setUp.places.filter((p) => p.carrierId === carrier.id).map((p) => p.station));
  const load = (assembly: AssemblyRecord) => {
    const after = Array.from({ length: carrier.stations }, (_, i) => ((station - 1 + i) % carrier.stations) + 1);
    const free = after.find((n) => !held.has(n));
    if (free === undefined) {
      showProblem(`${carrier.name} has no free station. Drag it onto the one whose tool it is to replace.`);
      return;
    }
    loadStation(setUp.id, { carrierId: carrier.id, station: free, assemblyId: assembly.id, spindle: 'main' }, assembly.name);
    onLoaded(free);
  };
  return (
    <section className="station-panel" aria-label="Shelf">
      <h2>
        Shelf <span className="soft">what goes into {carrier.name}</span>
      </h2>
      {fitting.length === 0 ? (
        <p>
          No assembly on the Shelf begins with {sayConnection(carrier.connection)}. <Link to="/build">Build one</Link>.
        </p>
      ) : (
        <>
          <TextInput
            size="xs"
            aria-label="Find an assembly"
            placeholder="name"
            leftSection={<IconSearch size={14} />}
            value={words}
            onChange={(e) => setWords(e.currentTarget.value)}
          />
          <p className="soft">Drag one to a station of the dial or the table. Enter takes it to the next free one.</p>
          <ul className="load-list with-pictures">
            {shown.map(({ assembly }) => (
              <li key={assembly.id}>
                <TrayItem assembly={assembly} times={setUp.places.filter((p) => p.assemblyId === assembly.id).length} onLoad={() => load(assembly)} />
              </li>
            ))}
            {shown.length === 0 && <li className="soft">None of {fitting.length} is called that.</li>}
          </ul>
        </>
      )}
    </section>
  );
});

function TrayItem({ assembly, times, onLoad }: { assembly: AssemblyRecord; times: number; onLoad: () => void }) {
  const drag = useDragged(`shelf ${assembly.id}`, { assembly });
  return (
    <button type="button" {...drag} onClick={onLoad}>
      <span className="tray-picture" aria-hidden>
        <SmallPicture record={assembly} />
      </span>
      <span>
        {assembly.name}
        <span className="soft">
          {' '}
          {sayPieces(assembly)}
          {times > 0 ? `, loaded${times > 1 ? ` ${times} times` : ''}` : ''}
        </span>
      </span>
    </button>
  );
}
