import { Button, Group } from '@mantine/core';
import { IconDownload } from '@tabler/icons-react';
import type { Check } from '#core/records';
import { CheckList } from '../../common/check-list.tsx';

/** A package that was written: its file, what is in it, and what was looked at on the way. */
export interface Written {
  readonly name: string;
  readonly bytes: number;
  readonly holds: string;
  readonly checks: readonly Check[];
}

interface Props {
  /** What has to be mended first. */
  readonly fails: readonly Check[];
  readonly isReady: boolean;
  readonly onWrite: () => void;
  readonly table: { readonly label: string; readonly isReady: boolean; readonly onWrite: () => void };
  readonly written: Written | null;
}

/** Writes a package, or a table beside it; says what is in the way, and what came of it. */
export function WritePackage({ fails, isReady, onWrite, table, written }: Props) {
  const toLookAt = written?.checks.filter((c) => c.state !== 'pass') ?? [];
  return (
    <>
      <Group>
        <Button leftSection={<IconDownload size={17} />} disabled={fails.length > 0 || !isReady} onClick={onWrite}>
          Write the package
        </Button>
        <Button variant="default" leftSection={<IconDownload size={17} />} disabled={!table.isReady} onClick={table.onWrite}>
          {table.label}
        </Button>
      </Group>
      {fails.length > 0 && (
        <>
          <h3>Mend this before handing over</h3>
          <CheckList checks={fails} />
        </>
      )}
      {written && (
        <p className="written" role="status">
          {written.name} is written: {(written.bytes / 1e6).toFixed(2)} MB, {written.holds}, {written.checks.length - toLookAt.length} checks passed
          {toLookAt.length > 0 ? `, ${toLookAt.length} to look at` : ''}.
        </p>
      )}
      {toLookAt.length > 0 && (
        <>
          <h3>To look at</h3>
          <CheckList checks={toLookAt} />
        </>
      )}
    </>
  );
}
