import { createBrowserRouter } from 'react-router';
import { Board } from '../features/board/board';
import { SignIn } from '../features/session/sign-in';
import { Shell } from './shell';

export const router = createBrowserRouter([
  { path: '/sign-in', element: <SignIn /> },
  {
    path: '/',
    element: <Shell />,
    children: [
      { index: true, element: <Board /> },
      { path: 'cases/:id', lazy: async () => ({ Component: (await import('../features/case/case-page')).CasePage }) },
      {
        path: 'cases/:id/summary',
        lazy: async () => ({ Component: (await import('../features/summary/summary-page')).SummaryPage }),
      },
    ],
  },
]);
