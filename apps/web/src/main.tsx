import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import '@fontsource-variable/spline-sans-mono';
import './styles.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import ProjectPage from './shell/workspace.tsx';
import JointsStation from './stations/joints/station.tsx';
import ModelStation from './stations/model.tsx';
import PiecesStation from './stations/pieces.tsx';
import PrintersPage from './stations/printers/page.tsx';
import ProjectsPage from './stations/projects.tsx';
import SeamsStation from './stations/seams/station.tsx';
import { ToastProvider } from './ui/toasts.tsx';

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage /> },
  { path: '/printers', element: <PrintersPage /> },
  {
    path: '/p/:projectId',
    element: <ProjectPage />,
    children: [
      { index: true, element: <Navigate to="model" replace /> },
      { path: 'model', element: <ModelStation /> },
      { path: 'seams', element: <SeamsStation /> },
      { path: 'joints', element: <JointsStation /> },
      { path: 'pieces', element: <PiecesStation /> },
    ],
  },
  { path: '*', element: <Navigate to="/" replace /> },
]);

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ToastProvider>
        <RouterProvider router={router} />
      </ToastProvider>
    </StrictMode>,
  );
}
