import { Button, Checkbox, Modal } from '@mantine/core';
import { useState } from 'react';
import { sayFew } from '#core/issues';
import type { ArchivedFile } from '#core/sources';
import { sayBytes } from '../common/say-bytes.ts';
import { type OfferedArchive, useOfferedArchive, usuallyTaken } from '../store/open-archive.ts';

/** A dropped archive with several things in it: which are opened. */
export function ArchiveDialog() {
  const offered = useOfferedArchive();
  return offered ? <Choice key={offered.number} {...offered} /> : null;
}

function Choice({ from, archive, take }: OfferedArchive) {
  const { files, others } = archive;
  const [chosen, setChosen] = useState<ReadonlySet<ArchivedFile>>(new Set(usuallyTaken(archive)));
  const choose = (file: ArchivedFile, isChosen: boolean) => setChosen(new Set(files.filter((f) => (f === file ? isChosen : chosen.has(f)))));
  const leave = () => take([]);
  return (
    <Modal opened onClose={leave} closeButtonProps={{ 'aria-label': 'Close' }} title={`What is in ${from}`} size="lg">
      <ul className="bring-list">
        {files.map((file) => (
          <li key={file.path}>
            <Checkbox size="xs" label={file.path} checked={chosen.has(file)} onChange={({ currentTarget }) => choose(file, currentTarget.checked)} />
            <span className="ledger-hint">
              {file.kind}
              {file.isDouble ? ', the same as above in another form' : ''} · <span className="number">{sayBytes(file.bytes.length)}</span>
            </span>
          </li>
        ))}
      </ul>
      {others.length > 0 && <p className="ledger-hint bring-sum">Not opened: {sayFew(others)}</p>}
      <div className="button-row">
        <Button size="xs" disabled={chosen.size === 0} data-autofocus onClick={() => take(files.filter((f) => chosen.has(f)))}>
          {chosen.size === 0 ? 'Nothing to open' : `Open ${chosen.size}`}
        </Button>
        <Button size="xs" variant="default" onClick={leave}>
          Leave it
        </Button>
      </div>
    </Modal>
  );
}
