import { UnstyledButton } from '@mantine/core';
import type { ReactNode } from 'react';
import type { ComponentRecord } from '#core/records';
import { sayConnection } from '#core/standards';
import { SmallPicture } from '../../../pictures/record-picture.tsx';

/** A component to choose: its picture, its name and its mount. */
export function ComponentRow({ component, onChoose, note }: { component: ComponentRecord; onChoose: () => void; note?: ReactNode }) {
  const { mount } = component;
  return (
    <UnstyledButton className="add-row component-row" onClick={onChoose}>
      <span className="row-picture">
        <SmallPicture record={component} />
      </span>
      <span className="row-name">
        {component.name}
        <span className="number row-mount">{mount ? sayConnection(mount.connection) : ''}</span>
      </span>
      {note}
    </UnstyledButton>
  );
}
