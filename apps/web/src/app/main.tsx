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
import { Tips } from '../ui/tip.tsx';
import { ToastProvider } from '../ui/toasts.tsx';
import { NotOpened, Opening } from './opening.tsx';

/** The view and the stations, which are most of the program. */
const workspace = () => import('./workspace.tsx');
// a project is likely to be opened next; where it does not come now, it is asked for again then
addEventListener('load', () => workspace().catch(() => {}));

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage /> },
  { path: '/printers', element: <PrintersPage /> },
  {
    path: '/p/:projectId',
    lazy: async () => ({ Component: (await workspace()).default }),
    HydrateFallback: Opening,
    ErrorBoundary: NotOpened,
    children: [{ path: '*', lazy: async () => ({ Component: (await workspace()).StationPage }) }],
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
