import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import { keepOffline } from './offline';
import { BenchPage } from './pages/BenchPage';
import { BriefPage } from './pages/BriefPage';
import { DrawingPage } from './pages/DrawingPage';
import { InspectPage } from './pages/InspectPage';
import { LogPage } from './pages/LogPage';
import { MadePage } from './pages/MadePage';
import { MakePage } from './pages/MakePage';
import { ProjectFrame } from './pages/ProjectFrame';
import { ProjectsPage } from './pages/ProjectsPage';
import { SizesPage } from './pages/SizesPage';
import { PageStopped } from './ui/Pane';
import { applyTheme } from './ui/theme';
import './styles.css';

applyTheme();
keepOffline();

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage />, errorElement: <PageStopped /> },
  {
    path: '/project/:id',
    element: <ProjectFrame />,
    errorElement: <PageStopped />,
    children: [
      { index: true, element: <Navigate to="bench" replace /> },
      { path: 'brief', element: <BriefPage /> },
      { path: 'bench', element: <BenchPage /> },
      { path: 'inspect', element: <InspectPage /> },
      { path: 'sizes', element: <SizesPage /> },
      { path: 'drawing', element: <DrawingPage /> },
      { path: 'make', element: <MakePage /> },
      { path: 'made', element: <MadePage /> },
      { path: 'log', element: <LogPage /> },
    ],
  },
  { path: '*', element: <Navigate to="/" replace /> },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false, refetchOnWindowFocus: true } } })}>
      <RouterProvider router={router} />
      <Toaster position="bottom-center" toastOptions={{ duration: 6000 }} />
    </QueryClientProvider>
  </StrictMode>,
);
