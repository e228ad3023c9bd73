import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import '@fontsource-variable/spline-sans-mono';
import './styles.css';
import '../ui/nonce.ts';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import PrintersPage from '../pages/printers.tsx';
import ProjectsPage from '../pages/projects.tsx';
import { STATIONS } from '../stations/registry.ts';
import { Tips } from '../ui/tip.tsx';
import { ToastProvider } from '../ui/toasts.tsx';
import ProjectPage from './workspace.tsx';

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage /> },
  { path: '/printers', element: <PrintersPage /> },
  {
    path: '/p/:projectId',
    element: <ProjectPage />,
    children: [
      { index: true, element: <Navigate to={STATIONS[0].id} replace /> },
      ...STATIONS.map(({ id, page: Page }) => ({ path: id, element: <Page /> })),
    ],
  },
  { path: '*', element: <Navigate to="/" replace /> },
]);

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <Tips>
        <ToastProvider>
          <RouterProvider router={router} />
        </ToastProvider>
      </Tips>
    </StrictMode>,
  );
}
