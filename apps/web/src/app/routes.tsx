import { createBrowserRouter } from 'react-router';
import { Board } from '../features/board/board';
import { SetUp } from '../features/session/set-up';
import { SignIn } from '../features/session/sign-in';
import { Shell } from './shell';

export const router = createBrowserRouter([
  { path: '/sign-in', element: <SignIn /> },
  { path: '/set-up', element: <SetUp /> },
  {
    path: '/',
    element: <Shell />,
    children: [
      { index: true, element: <Board /> },
      {
        path: 'account',
        lazy: async () => ({ Component: (await import('../features/shop/account-page')).AccountPage }),
      },
      { path: 'rules', lazy: async () => ({ Component: (await import('../features/rules/rules-page')).RulesPage }) },
      {
        path: 'systems',
        lazy: async () => ({ Component: (await import('../features/systems/systems-page')).SystemsPage }),
      },
      {
        path: 'systems/:id',
        lazy: async () => ({ Component: (await import('../features/systems/composer-page')).ComposerPage }),
      },
      { path: 'shelf', lazy: async () => ({ Component: (await import('../features/shelf/shelf-page')).ShelfPage }) },
      {
        path: 'learned',
        lazy: async () => ({ Component: (await import('../features/learned/learned-page')).LearnedPage }),
      },
      { path: 'shop', lazy: async () => ({ Component: (await import('../features/shop/shop-page')).ShopPage }) },
      {
        path: 'cases/:id/summary',
        lazy: async () => ({ Component: (await import('../features/summary/summary-page')).SummaryPage }),
      },
      {
        path: 'cases/:id/:view?',
        lazy: async () => ({ Component: (await import('../features/case/case-page')).CasePage }),
      },
    ],
  },
]);
