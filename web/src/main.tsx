import '@fontsource-variable/source-sans-3';
import 'bootstrap/dist/css/bootstrap.min.css';
import './styles/tokens.css';
import './styles/base.css';
import './styles/buttons.css';
import './styles/tables.css';
import './styles/fields.css';
import './styles/frame.css';
import './styles/ledger.css';
import './styles/station.css';
import './styles/charts.css';
import './styles/schematic.css';
import './styles/plan.css';
import './styles/working.css';
import './styles/shelf.css';
import './styles/library.css';
import './styles/project.css';
import './styles/bench.css';
import './styles/palette.css';
import './styles/answers.css';
import './styles/focus.css';
import './styles/narrow.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { BrokenPage } from './shown/BrokenPage';
import { LostPage } from './shown/LostPage';
import { applyTheme, followSystem } from './shown/theme';

applyTheme();
followSystem();

/** What the server has: read once and kept; the questions themselves say when it is read again. */
const queries = new QueryClient({ defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false } } });

/** Pages and stations are loaded when they are first looked at. */
const router = createBrowserRouter([
  {
    errorElement: <BrokenPage />,
    hydrateFallbackElement: <p className="quiet p-3">Opening …</p>,
    children: [
      {
        path: '/',
        // The shelf is asked for while its page is still being loaded.
        loader: async () => {
          const { api } = await import('./api/client');
          // What goes wrong is told by the page, which asks again.
          void queries.query({ queryKey: ['shelf'], queryFn: api.shelf }).catch(() => undefined);
          return null;
        },
        lazy: async () => ({ Component: (await import('./shelf/ShelfPage')).ShelfPage }),
      },
      {
        path: '/stages/:id',
        lazy: async () => ({ Component: (await import('./stage/StagePage')).StagePage }),
        children: [
          { index: true, element: <Navigate to="overview" replace /> },
          {
            path: 'overview',
            lazy: async () => ({ Component: (await import('./overview/OverviewStation')).OverviewStation }),
          },
          {
            path: 'targets',
            lazy: async () => ({ Component: (await import('./stage/TargetsStation')).TargetsStation }),
          },
          { path: 'stage', lazy: async () => ({ Component: (await import('./stage/StageStation')).StageStation }) },
          {
            path: 'inductor',
            lazy: async () => ({ Component: (await import('./stage/InductorStation')).InductorStation }),
          },
          {
            path: 'capacitors',
            lazy: async () => ({ Component: (await import('./stage/CapacitorsStation')).CapacitorsStation }),
          },
          {
            path: 'switches',
            lazy: async () => ({ Component: (await import('./switches/SwitchesStation')).SwitchesStation }),
          },
          {
            path: 'efficiency',
            lazy: async () => ({ Component: (await import('./efficiency/EfficiencyStation')).EfficiencyStation }),
          },
          { path: 'loop', lazy: async () => ({ Component: (await import('./loop/LoopStation')).LoopStation }) },
          {
            path: 'transient',
            lazy: async () => ({ Component: (await import('./transient/TransientStation')).TransientStation }),
          },
          {
            path: 'phases',
            lazy: async () => ({ Component: (await import('./phases/PhasesStation')).PhasesStation }),
          },
          {
            path: 'winding',
            lazy: async () => ({ Component: (await import('./winding/WindingStation')).WindingStation }),
          },
          { path: 'board', lazy: async () => ({ Component: (await import('./board/BoardStation')).BoardStation }) },
          { path: 'bench', lazy: async () => ({ Component: (await import('./bench/BenchStation')).BenchStation }) },
          {
            path: 'compare',
            lazy: async () => ({ Component: (await import('./compare/CompareStation')).CompareStation }),
          },
          { path: '*', lazy: async () => ({ Component: (await import('./stage/LostStation')).LostStation }) },
        ],
      },
      { path: '/projects/:id', lazy: async () => ({ Component: (await import('./project/ProjectPage')).ProjectPage }) },
      { path: '/library', lazy: async () => ({ Component: (await import('./library/LibraryPage')).LibraryPage }) },
      { path: '*', element: <LostPage /> },
    ],
  },
]);

const root = document.getElementById('root');
if (!root) throw new Error('The page has no place for the application.');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
