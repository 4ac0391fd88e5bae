import { UnstyledButton } from '@mantine/core';
import type { ReactNode } from 'react';
import type { ComponentRecord } from '#core/records';
import { sayConnection } from '#core/standards';
import { ShapePicture } from '../../../common/shape-picture.tsx';

/** A component to choose: its picture where data or an outline draws it, its name and its mount. */
export function ComponentRow({ component, onChoose, note }: { component: ComponentRecord; onChoose: () => void; note?: ReactNode }) {
  const { source, mount } = component;
  return (
    <UnstyledButton className="add-row component-row" onClick={onChoose}>
      <span className="row-picture">{source.kind === 'file' ? null : <ShapePicture shape={source.shape} />}</span>
      <span className="row-name">
        {component.name}
        <span className="number row-mount">{mount ? sayConnection(mount.connection) : ''}</span>
      </span>
      {note}
    </UnstyledButton>
  );
}
