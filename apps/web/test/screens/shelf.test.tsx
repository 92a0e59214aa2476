import type { CaptureItem, CaseDetail, ShelfItem } from '@jarro/api-types';
import { EMPTY_INTAKE, type RampResult } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { standingCaptures } from '../../src/features/case/evidence';
import { KnownGoodPanel } from '../../src/features/shelf/known-good-panel';
import { PutOnShelf } from '../../src/features/shelf/put-on-shelf';
import { OneCase, somebody } from '../support/one-case';
import { show, showOnBench } from '../support/screen';

// What one closed case proved good, kept for the next of its kind, and what the next one is held against.

afterEach(() => localStorage.clear());

const TURN = Array.from({ length: 64 }, (_, i) => 4 + 0.2 * Math.abs(Math.sin((Math.PI * 8 * i) / 64)));

function aCapture(id: string, ramp: Partial<RampResult> = {}, more: object = {}): CaptureItem {
  const steady = { fromS: 1, toS: 2, meanA: 4.1, ripplePercent: 6 };
  const humps = { basis: 'measured' };
  return {
    ...{ id, label: `Capture ${id}`, fileName: `${id}.csv` },
    analysis: { ramp: { pattern: 'even', steady, rpm: 6000, humps, ...ramp }, turnA: TURN, ...more },
  } as unknown as CaptureItem;
}

const aGood = (id: string, numbers: object = {}, more: Partial<ShelfItem> = {}): ShelfItem => ({
  ...{ id, caseId: `case-${id}`, caseNumber: 12, captureId: `of-${id}`, label: `Good ${id}` },
  ...{ systemLine: null, systemName: '', systemKind: 'returnless-mechanical', turnA: TURN },
  numbers: { keyState: 'prime', meanA: 4, ripplePercent: 7, rpm: 6100, ...numbers },
  ...{ addedBy: 'Jem', addedAt: '2026-02-01T08:00:00Z', retired: false },
  ...more,
});

describe('what a closed case proved good', () => {
  const capture = { kind: 'capture', at: 'pump_current', value: null } as const;
  const closed = (verdict: string, who = somebody()) => {
    const server = new OneCase(who).has(
      { ...capture, id: 'before' },
      { kind: 'verdict', at: 'case', value: { kind: verdict } },
      { kind: 'repair', at: 'done', value: { what: 'Done.', changed: true } },
      { ...capture, id: 'after' },
    );
    server.stage = 'closed';
    server.pages.set('shelf', []);
    return server;
  };
  const captures = [aCapture('before'), aCapture('after')];
  const shown = (server: OneCase, own = captures) =>
    show(server, <PutOnShelf item={{ ...server.detail(), captures: own }} />);
  const offered = async () => {
    const section = within(await screen.findByRole('region', { name: 'For the shelf' }));
    return section.getAllByText(/^Capture /).map(({ textContent }) => textContent);
  };

  it('is what its recheck showed, where something was replaced', async () => {
    await shown(closed('replace-pump'));
    expect(await offered()).toEqual(['Capture after']);
  });

  it('is all of a pump that was cleared', async () => {
    await shown(closed('no-fault-found'));
    expect(await offered()).toEqual(['Capture before', 'Capture after']);
  });

  it('goes on the shelf under a name that begins with the vehicle’s, once', async () => {
    const server = closed('replace-pump');
    const { hand } = await shown(server);
    await hand.click(await screen.findByRole('button', { name: 'Keep as known-good' }));
    const name = screen.getByRole('textbox', { name: /^Name/ });
    expect(name).toHaveValue('Brindle Rook, 1.4 petrol, 2016');
    await hand.type(name, ', warm');
    await hand.type(screen.getByRole('textbox', { name: /^Temperature/ }), '21,5');
    server.pages.set('shelf', [aGood('kept', {}, { captureId: 'after' })]);
    await hand.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(server.sent.at(-1)).toMatchObject({
      path: 'shelf',
      body: { captureId: 'after', label: 'Brindle Rook, 1.4 petrol, 2016, warm', temperatureC: 21.5 },
    });
    expect(await screen.findByText('on the shelf')).toBeVisible();
    expect(screen.queryByRole('button', { name: 'Keep as known-good' })).toBeNull();
  });

  it('keeps what was typed where the shelf refuses it, and says why', async () => {
    const server = closed('replace-pump');
    server.refusal = 'That capture is on the shelf already.';
    const { hand } = await shown(server);
    await hand.click(await screen.findByRole('button', { name: 'Keep as known-good' }));
    await hand.click(screen.getByRole('button', { name: 'Keep it' }));
    expect(await screen.findByText('That capture is on the shelf already.')).toBeVisible();
    expect(screen.getByRole('textbox', { name: /^Name/ })).toHaveValue('Brindle Rook, 1.4 petrol, 2016');
  });

  it('is not offered without a steady draw, nor to be kept by who measures nothing', async () => {
    const { leave } = await shown(closed('replace-pump'), [aCapture('after', { steady: undefined })]);
    expect(screen.queryByRole('region', { name: 'For the shelf' })).toBeNull();
    leave();
    await shown(closed('replace-pump', somebody('adviser')));
    expect(await offered()).toEqual(['Capture after']);
    expect(screen.queryByRole('button', { name: 'Keep as known-good' })).toBeNull();
  });
});

describe('a capture beside the known-goods of its kind', () => {
  const bench = (goods: readonly ShelfItem[]) => {
    const server = new OneCase().has(
      { kind: 'intake', at: 'case', value: { ...EMPTY_INTAKE, system: 'returnless-mechanical' } },
      { kind: 'capture', at: 'pump_current', value: null, id: 'now' },
    );
    server.pages.set('shelf', goods);
    return server;
  };
  const shown = (goods: readonly ShelfItem[], own = aCapture('now')) =>
    showOnBench(bench(goods), (item: CaseDetail) => {
      const withOwn = { ...item, captures: [own] };
      return <KnownGoodPanel item={withOwn} capture={standingCaptures(withOwn)[0]} />;
    });
  const row = (name: string) => screen.getByText(name).closest('tr');

  it('is alike within what sound pumps differ by, and differs beyond it', async () => {
    await shown([aGood('a', { meanA: 5.6, rpm: 6100 })]);
    await screen.findByRole('region', { name: 'Beside the known-good' });
    // A draw of 4.10 A differs by 15 % at most, a speed of 6 000 by twice 8 % where the pump's volts weren't read.
    expect(row('Mean draw')).toHaveTextContent(/4\.10 A5\.60 A ± 0\.61 A.*differs/);
    expect(row('Ripple')).toHaveTextContent(/6 %7 % ± 8 %.*alike/);
    expect(row('Speed')).toHaveTextContent(/6.000 rpm.*alike/);
    expect(screen.getByText(/volts weren’t read/)).toBeVisible();
    expect(screen.getByText(/shown is that of case 12\./)).toBeVisible();
  });

  it('is laid on the middle of several, or on the one that is chosen', async () => {
    const { hand } = await shown([aGood('a'), aGood('b'), aGood('c')]);
    const picture = await screen.findByRole('img', { name: /middle of 3 known-goods and this capture/ });
    expect(picture).toBeVisible();
    await hand.selectOptions(screen.getByRole('combobox', { name: 'Known-good shown' }), 'Good b');
    expect(screen.getByRole('img', { name: /Good b and this capture/ })).toBeVisible();
    await hand.selectOptions(screen.getByRole('combobox', { name: 'Known-good shown' }), 'All 3 together');
    expect(screen.getByRole('img', { name: /middle of 3/ })).toBeVisible();
  });

  it('is compared by numbers alone where one of the two shows no turn', async () => {
    await shown([aGood('a', {}, { turnA: null })]);
    expect(await screen.findByText(/One of the two shows no turn/)).toBeVisible();
    expect(row('Mean draw')).toHaveTextContent('alike');
  });

  it.each([
    ['of another kind', { systemKind: 'return-rail' as const }],
    ['taken off the shelf', { retired: true }],
    ['taken in another key state', { numbers: { keyState: 'idle', meanA: 4, ripplePercent: 7 } as const }],
    ['of this very capture', { captureId: 'now' }],
  ])('is held against none that was %s', async (_, more) => {
    await shown([aGood('other', {}, more), aGood('b')]);
    expect(await screen.findByText(/^One known-good of this kind/)).toBeVisible();
    expect(screen.queryByRole('combobox', { name: 'Known-good shown' })).toBeNull();
  });
});
