import '@fontsource-variable/source-sans-3';
import 'bootstrap/dist/css/bootstrap.min.css';
import 'katex/dist/katex.min.css';
import './styles/tokens.css';
import './styles/app.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { LibraryPage } from './library/LibraryPage';
import { ShelfPage } from './shelf/ShelfPage';
import { LostPage } from './shown/LostPage';
import { applyTheme } from './shown/theme';
import { EfficiencyStation } from './efficiency/EfficiencyStation';
import { LoopStation } from './loop/LoopStation';
import { CapacitorsStation } from './stage/CapacitorsStation';
import { InductorStation } from './stage/InductorStation';
import { StagePage } from './stage/StagePage';
import { StageStation } from './stage/StageStation';
import { TargetsStation } from './stage/TargetsStation';
import { SwitchesStation } from './switches/SwitchesStation';

applyTheme();

const router = createBrowserRouter([
  { path: '/', element: <ShelfPage /> },
  {
    path: '/stages/:id',
    element: <StagePage />,
    children: [
      { index: true, element: <Navigate to="targets" replace /> },
      { path: 'targets', element: <TargetsStation /> },
      { path: 'stage', element: <StageStation /> },
      { path: 'inductor', element: <InductorStation /> },
      { path: 'capacitors', element: <CapacitorsStation /> },
      { path: 'switches', element: <SwitchesStation /> },
      { path: 'efficiency', element: <EfficiencyStation /> },
      { path: 'loop', element: <LoopStation /> },
    ],
  },
  { path: '/library', element: <LibraryPage /> },
  { path: '*', element: <LostPage /> },
]);

const root = document.getElementById('root');
if (!root) throw new Error('The page has no place for the application.');
createRoot(root).render(
  <StrictMode>
    <RouterProvider router={router} />
  </StrictMode>,
);
