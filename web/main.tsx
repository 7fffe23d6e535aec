import './style.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { applyTheme, usePrefs } from './state/prefs.ts';
import { router } from './router.tsx';
import { Emergency } from './screens/Emergency.tsx';
import { Failed } from './screens/Failed.tsx';
import { followFailures } from './state/failed.ts';

followFailures();
applyTheme(usePrefs.getState().theme);
usePrefs.subscribe(({ theme }) => applyTheme(theme));
window
  .matchMedia('(prefers-color-scheme: dark)')
  .addEventListener('change', () => applyTheme(usePrefs.getState().theme));

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <RouterProvider router={router} />
    <Emergency />
    <Failed />
  </StrictMode>,
);

// Where the page came over TLS, or from this machine, it starts without the server too.
if (import.meta.env.PROD && 'serviceWorker' in navigator && window.isSecureContext) {
  void navigator.serviceWorker.register('/sw.js').catch(() => {});
}
