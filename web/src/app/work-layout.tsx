import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import type { ReactNode } from 'react';

/** Stage over section strip, with a side panel at the right; borders can be dragged and stay where they were put. */
export function WorkLayout({
  id,
  stage,
  strip,
  stripSize = '27%',
  side,
}: {
  id: string;
  stage: ReactNode;
  strip: ReactNode;
  stripSize?: string;
  side: ReactNode;
}) {
  const columns = useDefaultLayout({ id: `${id}-columns`, panelIds: ['work', 'side'], storage: localStorage });
  const rows = useDefaultLayout({ id: `${id}-rows`, panelIds: ['stage', 'strip'], storage: localStorage });
  return (
    <Group orientation="horizontal" className="work-layout" {...columns}>
      <Panel id="work" minSize="45%">
        <Group orientation="vertical" {...rows}>
          <Panel id="stage" minSize="30%">
            {stage}
          </Panel>
          <Separator className="separator horizontal" />
          <Panel id="strip" defaultSize={stripSize} minSize={90}>
            {strip}
          </Panel>
        </Group>
      </Panel>
      <Separator className="separator vertical" />
      <Panel id="side" defaultSize={350} minSize={300}>
        {side}
      </Panel>
    </Group>
  );
}

/** A side panel at the right of what is worked on. */
export function SideLayout({ id, main, side }: { id: string; main: ReactNode; side: ReactNode }) {
  const columns = useDefaultLayout({ id: `${id}-columns`, panelIds: ['work', 'side'], storage: localStorage });
  return (
    <Group orientation="horizontal" className="work-layout" {...columns}>
      <Panel id="work" minSize="45%">
        {main}
      </Panel>
      <Separator className="separator vertical" />
      <Panel id="side" defaultSize={350} minSize={300}>
        {side}
      </Panel>
    </Group>
  );
}
