import { Button, FileButton, Group } from '@mantine/core';
import { useNavigate } from 'react-router';
import { geometryClient } from '../workers/geometry-client.ts';
import { useOpenFiles } from '../app/use-open-files.ts';

/** An area with nothing in it: the first step, and where there is something to begin with. */
export function EmptyArea({ title, text }: { title: string; text: string }) {
  const navigate = useNavigate();
  return (
    <div className="area">
      <div className="empty-area">
        <h1>{title}</h1>
        <p>{text}</p>
        <Group>
          <OpenButton />
          <Button variant="default" onClick={() => navigate('/shelf')}>
            Go to the Shelf
          </Button>
        </Group>
      </div>
    </div>
  );
}

/** Opens files by dialog and goes to what they are. */
export function OpenButton({ size = 'sm' }: { size?: string }) {
  const open = useOpenFiles();
  return (
    <FileButton
      multiple
      accept=".step,.stp,.stl,.obj,.3mf,.glb,.zip,.stpz,.gz,.dxf,.svg,.png,.jpg,.jpeg,.webp,.csv,.tsv"
      inputProps={{ 'aria-label': 'Files to open' }}
      onChange={open}
    >
      {(props) => (
        <Button size={size} {...props} onPointerEnter={() => geometryClient.warmNow()}>
          Open a file
        </Button>
      )}
    </FileButton>
  );
}
