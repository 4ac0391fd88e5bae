import { Button, Menu } from '@mantine/core';
import { IconBuildingBridge2, IconVectorSpline } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { type ComponentRecord, summarizeModel } from '#core/records';
import { AreaHeader } from '../../app/area-header.tsx';
import { componentOpened } from '../../app/session-slice.ts';
import { selectComponent, store, useAppSelector } from '../../app/store.ts';
import type { Model } from '#core/mesh';
import type { PickRef } from '../../scene/picks.ts';
import { renameRecord, startAssembly } from '../../store/library-actions.ts';
import { useModel } from '../../store/models.ts';
import { openPartOutline, type PartOutline, partOutlinesOf } from '../../store/outline-actions.ts';
import { EmptyArea } from '../empty-area.tsx';
import { BenchStage, type Shown } from './stage/bench-stage.tsx';
import type { Arm } from './ledger/entry-parts.tsx';

export default function BenchPage() {
  const { id } = useParams();
  const last = useAppSelector((s) => s.session.lastComponent);
  const openId = id ?? last ?? undefined;
  const record = useAppSelector((s) => selectComponent(s, openId));
  useEffect(() => {
    if (record) store.dispatch(componentOpened(record.id));
  }, [record]);
  if (!record)
    return (
      <EmptyArea title="Bench" text="Nothing is on the Bench. Drop a vendor’s model (STEP, STL, OBJ, 3MF, GLB) anywhere, or take a component from the Shelf." />
    );
  return <BenchWork key={record.id} record={record} />;
}

function BenchWork({ record }: { record: ComponentRecord }) {
  const loaded = useModel(record.model.blob);
  const navigate = useNavigate();
  const unit = useAppSelector((s) => s.session.unit);
  const [arm, setArm] = useState<Arm>(null);
  const [picks, setPicks] = useState<readonly PickRef[]>([]);
  const [shown, setShown] = useState<Shown>('source');
  // Numbers of faces belong to the model that they were picked on.
  useEffect(() => setPicks([]), [record.model.blob]);
  useEffect(() => {
    const stop = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return;
      setArm(null);
      setPicks([]);
    };
    window.addEventListener('keydown', stop);
    return () => window.removeEventListener('keydown', stop);
  }, []);

  const toBuild = () => navigate(`/build/${startAssembly(record)}`);
  const header = (
    <AreaHeader
      title={record.name}
      onRename={(name) => renameRecord(record, name)}
      note={`${record.source.kind === 'outline' ? 'made of an outline' : record.source.kind === 'data' ? 'made of data' : record.source.fileName}${loaded.state === 'ready' ? ` · ${summarizeModel(loaded.value).faces} faces` : ''}`}
    >
      <PartOutlineMenu
        record={record}
        face={picks.length === 1 && picks[0].kind === 'face' ? picks[0] : undefined}
        model={loaded.state === 'ready' ? loaded.value : undefined}
      />
      <Button
        size="xs"
        disabled={!record.mount}
        title={record.mount ? '' : 'Mark the mount first'}
        leftSection={<IconBuildingBridge2 size={16} />}
        onClick={toBuild}
      >
        Start an assembly
      </Button>
    </AreaHeader>
  );
  if (loaded.state === 'missing')
    return (
      <div className="area">
        {header}
        <div className="empty-area">
          <p>
            The geometry of {record.name} is not in this browser’s storage any more. Open {record.source.fileName} again; what was marked can be seen in a
            package.
          </p>
        </div>
      </div>
    );
  return (
    <div className="area">
      {header}
      {loaded.state === 'ready' ? (
        <BenchStage {...{ record, unit, arm, setArm, picks, setPicks, shown, setShown }} model={loaded.value} />
      ) : (
        <div className="empty-area" role="status">
          <p>Loading the model…</p>
        </div>
      )}
    </div>
  );
}

const PART_WORDS: Readonly<Record<PartOutline, string>> = {
  face: 'Border of the picked face',
  'half section about the face': 'Half section about the picked face’s axis',
  'half section': 'Half section about the mount’s axis',
  section: 'Section in the mount’s plane',
  profile: 'Profile of the envelope',
  'plan cutting': 'Plan of the cutting part',
  'plan non-cutting': 'Plan of the holder',
};

/** Opens what a component looks like in section or from above as an outline. */
function PartOutlineMenu({ record, face, model }: { record: ComponentRecord; face: PickRef | undefined; model: Model | undefined }) {
  const navigate = useNavigate();
  const facts = face && model?.bodies.find((b) => b.id === face.body)?.faces[face.index];
  const parts = partOutlinesOf(record, facts);
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button
          size="xs"
          variant="default"
          disabled={parts.length === 0}
          title={parts.length === 0 ? 'Pick a face, or mark the mount first' : ''}
          leftSection={<IconVectorSpline size={16} />}
        >
          As an outline
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {parts.map((what) => (
          <Menu.Item key={what} onClick={() => void openPartOutline(record, what, face).then((id) => id && navigate(`/outline/${id}`))}>
            {PART_WORDS[what]}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
