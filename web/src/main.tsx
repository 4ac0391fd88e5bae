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
import { Shell } from './app/shell.tsx';
import { store, useAppSelector } from './app/store.ts';
import { cssVariables, theme } from './app/theme.ts';
import { geometryClient } from './workers/geometry-client.ts';

const TablePage = lazy(() => import('./areas/shelf/table/table-page.tsx'));
const ShelfPage = lazy(() => import('./areas/shelf/shelf-page.tsx'));
const BenchPage = lazy(() => import('./areas/bench/bench-page.tsx'));
const loadBuild = () => import('./areas/build/build-page.tsx');
const BuildPage = lazy(loadBuild);
const OutlinePage = lazy(() => import('./areas/outline/outline-page.tsx'));
const CarrierPage = lazy(() => import('./areas/carrier/carrier-page.tsx'));
const TrialPage = lazy(() => import('./areas/trial/trial-page.tsx'));
const HandoverPage = lazy(() => import('./areas/handover/handover-page.tsx'));

const opening = (
  <div className="empty-area" role="status">
    Opening…
  </div>
);

// The shell stands at once; a view waits for what is stored, so that none shows an empty Shelf for a moment. A list of many can be shown before they are read.
function WhenThere({ isList, children }: { isList: boolean; children: ReactNode }) {
  return useAppSelector(({ library: { loaded, listed } }) => loaded || (isList && listed !== null)) ? children : opening;
}

const page = (content: ReactNode, isList = false) => (
  <Suspense fallback={opening}>
    <WhenThere isList={isList}>{content}</WhenThere>
  </Suspense>
);

const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <ErrorPage />,
    children: [
      { index: true, element: <Navigate to="/build" replace /> },
      { path: 'shelf', element: page(<ShelfPage />, true) },
      { path: 'shelf/table', element: page(<TablePage />) },
      { path: 'bench/:id?', element: page(<BenchPage />) },
      { path: 'outline/:id?', element: page(<OutlinePage />) },
      { path: 'build/:id?', element: page(<BuildPage />) },
      { path: 'carrier/:id?', element: page(<CarrierPage />) },
      { path: 'trial/:id?', element: page(<TrialPage />) },
      { path: 'handover/:id?', element: page(<HandoverPage />) },
      { path: '*', element: <Navigate to="/shelf" replace /> },
    ],
  },
]);

async function start(): Promise<void> {
  const root = document.getElementById('root');
  if (!root) throw new Error('main.start: the page has no root');
  // What reads the stored records, and the first view's script, are on their way while the shell is drawn.
  const restoring = import('./app/start-library.ts');
  if (/^\/(build|$)/.test(window.location.pathname)) void loadBuild();
  createRoot(root).render(
    <StrictMode>
      <Provider store={store}>
        <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
          {/* Not at the top, where they covered undo and the actions of the area, nor at the right, where they covered the very buttons that had been pressed and
              stayed as long as the pointer rested there. They do not slide in (app.css): a press on one that moves is lost. */}
          <Notifications position="bottom-left" limit={4} transitionDuration={0} />
          <RouterProvider router={router} />
        </MantineProvider>
      </Provider>
    </StrictMode>,
  );
  await (await restoring).startLibrary();
  geometryClient.warmWhenIdle();
}

void start();
