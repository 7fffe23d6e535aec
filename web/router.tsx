import { createBrowserRouter, isRouteErrorResponse, Link, useRouteError } from 'react-router';
import { Shell } from './Shell.tsx';
import { Loading } from './controls/index.tsx';

function Lost() {
  const error = useRouteError();
  const missing = isRouteErrorResponse(error) && error.status === 404;
  return (
    <main className="p-8">
      <h1 className="mb-2 text-2xl font-bold">{missing ? 'There is nothing here' : 'This screen stumbled'}</h1>
      <p className="mb-4 text-quiet">
        {missing ? 'The address names no screen of Nibrel.' : 'Nothing that was recorded is lost. Load it again.'}
      </p>
      <Link className="underline" to="/">
        To the jobs
      </Link>
    </main>
  );
}

const screen = (load: () => Promise<{ default: React.ComponentType }>) => async () => ({
  Component: (await load()).default,
});

export const router = createBrowserRouter([
  {
    path: '/sign-in',
    lazy: screen(() => import('./screens/sign-in/SignIn.tsx')),
    HydrateFallback: () => <Loading what="the door" />,
  },
  {
    path: '/',
    element: <Shell />,
    errorElement: <Lost />,
    HydrateFallback: () => <Loading what="the bench" />,
    children: [
      { index: true, lazy: screen(() => import('./screens/jobs/Jobs.tsx')) },
      { path: 'counter', lazy: screen(() => import('./screens/counter/Counter.tsx')) },
      { path: 'intake', lazy: screen(() => import('./screens/intake/Intake.tsx')) },
      { path: 'shop', lazy: screen(() => import('./screens/shop/Shop.tsx')) },
      { path: 'set-up', lazy: screen(() => import('./screens/shop/SetUp.tsx')) },
      { path: 'stock', lazy: screen(() => import('./screens/stock/Stock.tsx')) },
      { path: 'anatomies/:anatomy/screws', lazy: screen(() => import('./screens/screws/Screws.tsx')) },
      { path: 'cells', lazy: screen(() => import('./screens/cells/Cells.tsx')) },
      { path: 'sources', lazy: screen(() => import('./screens/sources/Sources.tsx')) },
      {
        path: 'anatomies/:anatomy/opening',
        lazy: async () => ({ Component: (await import('./screens/opening/Opening.tsx')).AnatomyOpening }),
      },
      { path: 'rules', lazy: screen(() => import('./screens/rules/Rules.tsx')) },
      { path: 'workshop', lazy: screen(() => import('./screens/workshop/Workshop.tsx')) },
      { path: 'workshop/:draft', lazy: screen(() => import('./screens/workshop/Board.tsx')) },
      { path: 'workshop/:draft/photograph', lazy: screen(() => import('./screens/workshop/Lay.tsx')) },
      { path: 'anatomies', lazy: screen(() => import('./screens/anatomy/Anatomies.tsx')) },
      { path: 'anatomies/:anatomy', lazy: screen(() => import('./screens/anatomy/AnatomyView.tsx')) },
      {
        path: 'jobs/:job',
        lazy: screen(() => import('./screens/JobFrame.tsx')),
        children: [
          { index: true, lazy: screen(() => import('./screens/plan/PlanView.tsx')) },
          { path: 'spill', lazy: screen(() => import('./screens/spill/Spill.tsx')) },
          { path: 'compare', lazy: screen(() => import('./screens/compare/Compare.tsx')) },
          {
            path: 'opening',
            lazy: async () => ({ Component: (await import('./screens/opening/Opening.tsx')).JobOpening }),
          },
          { path: 'explore', lazy: screen(() => import('./screens/explore/Explore.tsx')) },
          { path: 'learnt', lazy: screen(() => import('./screens/explore/Learnt.tsx')) },
          { path: 'run', lazy: screen(() => import('./screens/run/Run.tsx')) },
          { path: 'prove', lazy: screen(() => import('./screens/prove/Prove.tsx')) },
          { path: 'closing', lazy: screen(() => import('./screens/closing/Closing.tsx')) },
          { path: 'cell', lazy: screen(() => import('./screens/cells/JobCell.tsx')) },
          { path: 'counter', lazy: screen(() => import('./screens/counter/JobCounter.tsx')) },
          { path: 'quote', lazy: screen(() => import('./screens/quote/Quote.tsx')) },
          { path: 'customer', lazy: screen(() => import('./screens/quote/CustomerView.tsx')) },
          { path: 'record', lazy: screen(() => import('./screens/record/Record.tsx')) },
        ],
      },
    ],
  },
]);
