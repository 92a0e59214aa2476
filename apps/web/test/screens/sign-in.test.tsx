import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { MemoryRouter, Route, Routes } from 'react-router';
import { Shell } from '../../src/app/shell';
import { makeStore } from '../../src/app/store';
import { SignIn } from '../../src/features/session/sign-in';
import { OneCase } from '../support/one-case';

// Who comes in by the door stays in, however late an answer to something else is.

it('lets in whoever signed in while the server still owes an answer', async () => {
  const { me } = new OneCase();
  let signedIn = false;
  const answer = (status: number, body?: object) =>
    new Response(body && JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
  globalThis.fetch = (input) => {
    const { method, url } = input as Request;
    // Whether it is set up stays open.
    if (!url.endsWith('/session')) return new Promise(() => {});
    if (method === 'POST') signedIn = true;
    if (method === 'POST') return Promise.resolve(answer(204));
    return Promise.resolve(signedIn ? answer(200, me) : answer(401, { detail: 'Sign in.' }));
  };
  render(
    <Provider store={makeStore()}>
      <MemoryRouter>
        <Routes>
          <Route path="/sign-in" element={<SignIn />} />
          <Route element={<Shell />}>
            <Route path="/" element={<p>The board</p>} />
          </Route>
        </Routes>
      </MemoryRouter>
    </Provider>,
  );
  const hand = userEvent.setup({ pointerEventsCheck: 0 });
  await hand.type(await screen.findByRole('textbox', { name: 'E-mail' }), 'jem@fennick.demo');
  await hand.type(screen.getByLabelText('Password'), 'humps-not-hunches');
  await hand.click(screen.getByRole('button', { name: 'Sign in' }));
  expect(await screen.findByText('The board')).toBeVisible();
});
