import { useNavigate } from 'react-router';
import { placeOf } from '../common/place-of.ts';

/** Opens files, dropped or chosen, and goes to what they are. */
export function useOpenFiles(): (files: readonly File[]) => void {
  const navigate = useNavigate();
  return (files) => {
    void import('../store/library-actions.ts').then(({ openFiles }) => openFiles(files)).then((opened) => opened && navigate(placeOf(opened)));
    // The page has nothing to do while the worker reads.
    if (files.length > 0) void import('../scene/kept-canvas.tsx').then(({ warmStage }) => warmStage());
  };
}
