import '../kinds/given/all.ts';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { Tooltip } from 'radix-ui';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import { BringView } from './bring/BringView.tsx';
import { AppShell } from './shell/AppShell.tsx';
import { StartView } from './start/StartView.tsx';
import './studio.css';

const router = createBrowserRouter([
  { path: '/', element: <StartView /> },
  { path: '/bring', element: <BringView /> },
  { path: '/app/:id', element: <AppShell /> },
  { path: '/app/:id/:workspace/:thing?/:part?', element: <AppShell /> },
  { path: '*', element: <Navigate to="/" replace /> },
]);
const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: Infinity, retry: false, networkMode: 'always' } },
});

createRoot(document.getElementById('studio')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Tooltip.Provider delayDuration={400}>
        <RouterProvider router={router} />
        <Toaster
          position="bottom-center"
          toastOptions={{
            style: {
              background: '#1F2E2A',
              color: '#FFFDF8',
              border: 0,
              borderRadius: 10,
              fontFamily: 'var(--font-text)',
            },
            actionButtonStyle: {
              background: '#FFFDF8',
              color: '#1F2E2A',
              height: 28,
              padding: '0 12px',
              borderRadius: 6,
              whiteSpace: 'nowrap',
            },
          }}
        />
      </Tooltip.Provider>
    </QueryClientProvider>
  </StrictMode>,
);
