import '@mantine/core/styles.css';
import '@mantine/notifications/styles.css';
import '@mantine/dropzone/styles.css';
import '@fontsource-variable/instrument-sans';
import '@fontsource-variable/jetbrains-mono';
import './app/app.css';
import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { lazy, StrictMode, Suspense, type ReactNode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { ErrorPage } from './app/error-page.tsx';
import { libraryLoaded } from './app/library-slice.ts';
import { showProblem, showWarnings } from './app/notify.tsx';
import { sessionRestored } from './app/session-slice.ts';
import { Shell } from './app/shell.tsx';
import { store, useAppSelector } from './app/store.ts';
import { cssVariables, theme } from './app/theme.ts';
import { restoreSession, startAutosave } from './store/autosave.ts';
import { removeUnusedBlobs } from './store/blobs.ts';
import { fetchDemo } from './store/demo.ts';
import { loadRecords, readSetting, writeSetting } from './store/records-db.ts';
import { geometryClient } from './workers/geometry-client.ts';
import { issue } from '#core/issues';
import type { AnyRecord } from '#core/records';

const ShelfPage = lazy(() => import('./areas/shelf/shelf-page.tsx'));
const BenchPage = lazy(() => import('./areas/bench/bench-page.tsx'));
const loadBuild = () => import('./areas/build/build-page.tsx');
const BuildPage = lazy(loadBuild);
const HandoverPage = lazy(() => import('./areas/handover/handover-page.tsx'));

const opening = (
  <div className="empty-area" role="status">
    Opening…
  </div>
);

// The shell stands at once; a view waits for what is stored, so that none shows an empty Shelf for a moment.
function WhenLoaded({ children }: { children: ReactNode }) {
  return useAppSelector((s) => s.library.loaded) ? children : opening;
}

const page = (content: ReactNode) => (
  <Suspense fallback={opening}>
    <WhenLoaded>{content}</WhenLoaded>
  </Suspense>
);

const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <ErrorPage />,
    children: [
      { index: true, element: <Navigate to="/build" replace /> },
      { path: 'shelf', element: page(<ShelfPage />) },
      { path: 'bench/:id?', element: page(<BenchPage />) },
      { path: 'build/:id?', element: page(<BuildPage />) },
      { path: 'handover/:id?', element: page(<HandoverPage />) },
      { path: '*', element: <Navigate to="/shelf" replace /> },
    ],
  },
]);

// What is stored in this browser, or the demo data at the very first start; a browser without storage still works.
async function restore(): Promise<Record<string, AnyRecord>> {
  try {
    const [loaded, session, begun] = await Promise.all([loadRecords(), restoreSession(), readSetting<boolean>('begun')]);
    if (session) store.dispatch(sessionRestored(session));
    // Behind the first screen; what a record of another version may refer to is not touched.
    if (loaded.unreadable.length === 0) void removeUnusedBlobs(Object.values(loaded.records)).catch(() => 0);
    else
      showWarnings(
        'Some records could not be read',
        loaded.unreadable.map((id) =>
          issue('record.bad', { file: 'this browser', field: id, text: 'it is damaged, or from a newer version; it is kept as it is' }),
        ),
      );
    return begun ? loaded.records : { ...(await firstDemo()), ...loaded.records };
  } catch (error) {
    showProblem(
      `This browser’s storage cannot be used (${error instanceof Error ? error.message : String(error)}). What you do stays in this tab only; write a package to keep it.`,
    );
    return {};
  }
}

async function firstDemo(): Promise<Record<string, AnyRecord>> {
  void writeSetting('begun', true).catch(() => undefined);
  return fetchDemo().catch((error: unknown) => {
    showProblem(`The demo data could not be fetched: ${error instanceof Error ? error.message : String(error)}`);
    return {};
  });
}

async function start(): Promise<void> {
  const root = document.getElementById('root');
  if (!root) throw new Error('main.start: the page has no root');
  // The first view's script is on its way while the rest is restored.
  if (/^\/(build|$)/.test(window.location.pathname)) void loadBuild();
  createRoot(root).render(
    <StrictMode>
      <Provider store={store}>
        <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
          <Notifications position="top-right" limit={4} />
          <RouterProvider router={router} />
        </MantineProvider>
      </Provider>
    </StrictMode>,
  );
  const records = await restore();
  startAutosave((message) => showProblem(message));
  store.dispatch(libraryLoaded(records));
  geometryClient.warmWhenIdle();
}

void start();
