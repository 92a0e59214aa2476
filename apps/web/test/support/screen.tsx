import type { CaseDetail } from '@jarro/api-types';
import { act, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import { baseApi, useCaseDetailQuery, useMeQuery } from '../../src/app/api';
import { makeStore } from '../../src/app/store';
import { BenchContext, useBench } from '../../src/features/case/bench';
import type { OneCase } from './one-case';

/** Shows a page's part as somebody sees it who is signed in, and gives the hands to work it. */
export async function show(server: OneCase, part: ReactNode, address = '/') {
  globalThis.fetch = (input) => server.answer(input as Request);
  const store = makeStore();
  const { unmount } = render(
    <Provider store={store}>
      <MemoryRouter initialEntries={[address]}>
        <SignedIn>{part}</SignedIn>
      </MemoryRouter>
    </Provider>,
  );
  await screen.findByTestId('signed in');
  // jsdom lays nothing out, so that it can't tell what lies under what.
  const hand = userEvent.setup({ pointerEventsCheck: 0 });
  /** As when the server says that a colleague wrote to the case. */
  const hear = () => act(() => Promise.resolve(void store.dispatch(baseApi.util.invalidateTags(['Case']))));
  return { hand, leave: unmount, hear };
}

/** The same for a part of the case, with the case on the bench. */
export async function showOnBench(server: OneCase, part: (item: CaseDetail) => ReactNode) {
  const shown = await show(server, <OnBench part={part} />);
  await screen.findByTestId('on the bench');
  return shown;
}

function SignedIn({ children }: { children: ReactNode }) {
  const { data: me } = useMeQuery();
  return me && <div data-testid="signed in">{children}</div>;
}

function OnBench({ part }: { part: (item: CaseDetail) => ReactNode }) {
  const { data: item } = useCaseDetailQuery('c');
  return (
    item && (
      <div data-testid="on the bench">
        <Bench item={item}>{part(item)}</Bench>
      </div>
    )
  );
}

function Bench({ item, children }: { item: CaseDetail; children: ReactNode }) {
  const { data: me } = useMeQuery();
  const bench = useBench(item, (me as NonNullable<typeof me>).shop.rules);
  return <BenchContext value={bench}>{children}</BenchContext>;
}
