import type { CaseDetail, VerifiedCase } from '@jarro/api-types';
import type { Contradiction, Diagnosis, DriveResult, PulseTrain } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { useKept } from '../../src/app/kept';
import { SwitchedLines } from '../../src/features/capture/switched-lines';
import { StageRail } from '../../src/features/case/stage-rail';
import { VoidEntry } from '../../src/features/case/void-entry';
import { SealPanel } from '../../src/features/evidence/seal-panel';
import { HandOverStage } from '../../src/features/recheck/hand-over-stage';
import { GateCard } from '../../src/features/scale/gate-card';
import { RepeatFirst } from '../../src/features/scale/repeat-first';
import { OneCase, somebody } from '../support/one-case';
import { BAD_CONTACT } from '../support/readings';
import { show, showOnBench } from '../support/screen';

// A case as a record: whether it is as it was left, what in it can't be true together, what it doesn't prove yet.

afterEach(() => localStorage.clear());

describe('the seal', () => {
  const sealed = (seal: Partial<CaseDetail['seal']> = {}) => {
    const item = new OneCase().has(...BAD_CONTACT).detail();
    return { ...item, seal: { ...item.seal, head: 'a1b2c3d4e5f60718293a', ...seal } };
  };
  const verified: VerifiedCase = {
    ...{ intact: true, problems: [], entries: 6, captures: 1, photos: 2, notSealed: [] },
    head: 'a1b2c3d4e5f60718293a',
  } as unknown as VerifiedCase;
  const panel = () => within(screen.getByRole('region', { name: 'Seal' }));

  it('says what its chain shows at once, and more once files and samples were read again', async () => {
    const server = new OneCase();
    server.pages.set('cases/c/verify', verified);
    const { hand } = await show(server, <SealPanel item={sealed()} />);
    expect(panel().getByText('6 entries, and nothing in them was changed.')).toBeVisible();
    expect(panel().getByText('a1b2c3d4e5f60718')).toBeVisible();
    await hand.click(panel().getByRole('button', { name: 'Check files and samples too' }));
    const whole = 'Nothing was changed: 6 entries, 1 capture with file and samples, 2 photos.';
    expect(await panel().findByText(whole)).toBeVisible();
  });

  it('warns where something was changed, and names it', async () => {
    const server = new OneCase();
    const problems = ['Entry 4: the samples of “Prime” are not those that were measured.'];
    server.pages.set('cases/c/verify', { ...verified, intact: false, problems, notSealed: ['No file of entry 2.'] });
    const { hand } = await show(server, <SealPanel item={sealed()} />);
    await hand.click(panel().getByRole('button', { name: /^Check files/ }));
    expect(await panel().findByText('This case was changed outside Jarro. Don’t rely on it.')).toBeVisible();
    expect(
      panel()
        .getAllByRole('listitem')
        .map(({ textContent }) => textContent),
    ).toEqual([...problems, 'No file of entry 2.']);
  });

  it('holds nothing of an older state against an entry that came in since', async () => {
    const server = new OneCase();
    server.pages.set('cases/c/verify', { ...verified, head: 'older' });
    const { hand } = await show(server, <SealPanel item={sealed()} />);
    await hand.click(panel().getByRole('button', { name: /^Check files/ }));
    await waitFor(() => expect(server.asked).toContain('cases/c/verify?'));
    await waitFor(() => expect(panel().getByRole('button', { name: /^Check files/ })).toBeEnabled());
    expect(panel().getByText('6 entries, and nothing in them was changed.')).toBeVisible();
  });

  it('says why it couldn’t be checked', async () => {
    const { hand } = await show(new OneCase(), <SealPanel item={sealed()} />);
    await hand.click(panel().getByRole('button', { name: /^Check files/ }));
    expect(await panel().findByRole('alert')).toHaveTextContent('Nothing is at cases/c/verify.');
  });
});

describe('a wrong entry', () => {
  it('is voided with its reason, and never without', async () => {
    const server = new OneCase();
    const { hand } = await show(server, <VoidEntry caseId="c" id="link-3" />);
    await hand.click(screen.getByRole('button', { name: 'Void' }));
    const sheet = within(screen.getByRole('dialog', { name: 'Void this entry' }));
    await hand.click(sheet.getByRole('button', { name: 'Void it' }));
    expect(server.sent).toEqual([]);
    await hand.type(sheet.getByRole('textbox', { name: 'Why is it wrong?' }), 'Probe on the wrong pin');
    await hand.click(sheet.getByRole('button', { name: 'Void it' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(server.sent).toEqual([
      { method: 'POST', path: 'cases/c/evidence/link-3/void', body: { reason: 'Probe on the wrong pin' } },
    ]);
  });

  it('keeps its reason in the field where it may not be voided any more', async () => {
    const server = new OneCase();
    server.refusal = 'A verdict rests on it. Reopen the case first.';
    const { hand } = await show(server, <VoidEntry caseId="c" id="link-3" />);
    await hand.click(screen.getByRole('button', { name: 'Void' }));
    await hand.type(screen.getByRole('textbox'), 'Wrong vehicle');
    await hand.click(screen.getByRole('button', { name: 'Void it' }));
    expect(await screen.findByText('A verdict rests on it. Reopen the case first.')).toBeVisible();
    expect(screen.getByRole('textbox')).toHaveValue('Wrong vehicle');
  });
});

describe('readings that can’t all be true', () => {
  const item = new OneCase().has(...BAD_CONTACT).detail();
  const one = (readings: readonly string[], settled: boolean, explanation: string) =>
    ({ readings, settled, explanation }) as unknown as Contradiction;

  it('are named by what they say, the open ones before the settled', async () => {
    const contradictions = [
      one(['link-1'], true, 'Read again, and believed.'),
      one(['link-3', 'link-5', 'link-4'], false, 'A pump feed can’t be above its relay.'),
    ];
    await show(new OneCase(), <RepeatFirst item={item} contradictions={contradictions} />);
    const first = screen.getByRole('region', { name: 'Repeat first' });
    expect(first).toHaveTextContent(/3: .*4\.20 V.*; 4: .*4\.15 V.* and 1 more.*can’t be above its relay/);
    const settled = screen.getByRole('region', { name: 'Seen and settled' });
    expect(settled).toHaveTextContent(/1: .*12\.50 V/);
    expect(first.compareDocumentPosition(settled)).toBe(Node.DOCUMENT_POSITION_FOLLOWING);
  });

  it('take no room where there are none', async () => {
    await show(new OneCase(), <RepeatFirst item={item} contradictions={[]} />);
    expect(screen.queryByRole('region')).toBeNull();
  });
});

describe('the gates', () => {
  const shut = { allowed: false, missing: ['Prove the ground under load.'], proven: ['The feed carries.'] };
  const weighed = (family: string, more: object = {}) =>
    ({ families: [{ family }], gate: { 'replace-pump': shut, ...more } }) as unknown as Diagnosis;
  const nameOf = (id: string) => (id === 'relay' ? 'Relay 87' : undefined);
  const titles = () => screen.getAllByRole('heading').map(({ textContent }) => textContent);

  it('say what the pump’s still lacks, and of what is likelier by its place', async () => {
    const relay = { allowed: true, missing: [], proven: [], station: 'relay' };
    const likelier = weighed('relay-contact', { 'replace-relay': relay });
    await show(new OneCase(), <GateCard diagnosis={likelier} stationName={nameOf} />);
    expect(titles()).toEqual(['Relay condemned (Relay 87): allowed', 'Gate: pump may not be condemned']);
    expect(screen.getByLabelText('missing').closest('li')).toHaveTextContent('Prove the ground under load.');
    expect(screen.getByLabelText('proven').closest('li')).toHaveTextContent('The feed carries.');
  });

  it('are one where the pump itself is likeliest', async () => {
    const open = { allowed: true, missing: [], proven: [] };
    const pump = weighed('pump-mechanical', { 'replace-pump': open });
    await show(new OneCase(), <GateCard diagnosis={pump} stationName={nameOf} />);
    expect(titles()).toEqual(['Gate: the pump may be condemned']);
  });
});

describe('a driver module’s lines', () => {
  const train = (more: Partial<PulseTrain>) =>
    ({
      dutyPercent: 49.7,
      frequencyHz: 150.04,
      onTimeMs: 3.31,
      lowV: 0.1,
      highV: 12.4,
      missing: 0,
      ...more,
    }) as PulseTrain;
  const rows = () =>
    screen
      .getAllByRole('row')
      .slice(1)
      .map(({ textContent }) => textContent);

  it('are told by the usual pulse, with what is missing or too many', async () => {
    const pulses = {
      command: train({ usualDutyPercent: 50.2, missing: 3, extra: [0.2, 0.4] }),
      output: train({ frequencyHz: 4000.2, onTimeMs: 0.125, fromS: 0.31, untilS: 2.3 }),
      // Stepped from one duty to another: its mean was never on the line.
      stepped: train({
        trend: [23, 50.6, 63.4].map((dutyPercent, atS) => ({ atS, dutyPercent, frequencyHz: 150 })),
      }),
    };
    await show(new OneCase(), <SwitchedLines pulses={pulses} drive={undefined} />);
    expect(rows()).toEqual([
      'command50.2 %150.0 Hz3.31 ms0.1 to 12.4 V3, 2 too many',
      'outputfrom 0.31 s until 2.30 s49.7 %4000 Hz0.125 ms0.1 to 12.4 Vnone',
      'stepped23 to 63 %49.7 % over the record150.0 Hz3.31 ms0.1 to 12.4 Vnone',
    ]);
  });

  it('are said to be stuck where they never switch, and where the chain breaks above them', async () => {
    const stuck = train({ stuck: 'between', highV: 6.24, frequencyHz: 0, onTimeMs: undefined });
    const drive = { cause: 'module', because: 'The command arrives, and the output stays.' } as DriveResult;
    await show(new OneCase(), <SwitchedLines pulses={{ output: stuck }} drive={drive} />);
    expect(rows()[0]).toMatch(/never switches: it stays at 6\.24 V, neither low nor high––––$/);
    expect(screen.getByText('Breaks at the module')).toBeVisible();
    expect(screen.getByText('The command arrives, and the output stays.')).toBeVisible();
  });
});

describe('the stages down the side', () => {
  it('count what each holds, and mark an intake that isn’t saved', async () => {
    function HalfTyped({ item }: { item: CaseDetail }) {
      const [, keep] = useKept('intake-form/c');
      return (
        <>
          <button onClick={() => keep({ notes: 'half typed' })}>type</button>
          <StageRail item={item} />
        </>
      );
    }
    const { hand } = await showOnBench(new OneCase().has(...BAD_CONTACT), (item) => <HalfTyped item={item} />);
    const rail = within(screen.getByRole('navigation', { name: 'Stages' }));
    expect(rail.getByRole('link', { name: /Power path/ })).toHaveTextContent(/6$/);
    expect(rail.getByRole('link', { name: /Power path/ })).toHaveAttribute('href', '/cases/c/power-path');
    expect(rail.getByRole('link', { name: /^Evidence/ })).toHaveTextContent(/6$/);
    expect(rail.queryByLabelText('not saved yet')).toBeNull();
    await hand.click(screen.getByRole('button', { name: 'type' }));
    expect(within(rail.getByRole('link', { name: /^Intake/ })).getByLabelText('not saved yet')).toBeVisible();
  });
});

describe('the hand-over', () => {
  const decided = (who = somebody('lead'), stage: 'decided' | 'closed' = 'decided') => {
    const server = new OneCase(who).has(
      ...BAD_CONTACT,
      { kind: 'verdict', at: 'case', value: { kind: 'replace-relay' } },
      { kind: 'repair', at: 'done', value: { what: 'Relay replaced.', changed: true } },
    );
    server.pages.set('shelf', []);
    return Object.assign(server.hasSeenCautions(), { stage });
  };
  const shown = (server: OneCase) => showOnBench(server, (item) => <HandOverStage item={item} />);
  const marked = (word: string) => screen.getAllByLabelText(word).map((mark) => mark.closest('li')?.textContent);

  it('lists what stands and what is open, and closes nothing before the tests are compared', async () => {
    await shown(decided());
    expect(marked('done')).toEqual(['A verdict stands.', 'The repair is written down as finished.']);
    expect(marked('open').length).toBeGreaterThan(2);
    expect(screen.getByRole('button', { name: 'Close the case' })).toBeDisabled();
  });

  it('is nothing for the front desk to close or to open again, and said to all once it is closed', async () => {
    const { leave } = await shown(decided(somebody('adviser')));
    expect(screen.queryByRole('button', { name: /Close the case|Reopen the case/ })).toBeNull();
    leave();
    await shown(decided(somebody('lead'), 'closed'));
    expect(screen.getByText('Closed: this vehicle was handed back.')).toBeVisible();
    expect(screen.queryByRole('button', { name: 'Close the case' })).toBeNull();
    expect(screen.getByRole('button', { name: 'Reopen the case' })).toBeVisible();
  });

  it('is undone with a reason of some length, which the case keeps', async () => {
    const server = decided(somebody('lead'), 'closed');
    const { hand } = await shown(server);
    await hand.click(screen.getByRole('button', { name: 'Reopen the case' }));
    expect(server.sent).toEqual([]);
    await hand.type(screen.getByRole('textbox', { name: /^Why it is opened again/ }), 'Came back, stalls when hot');
    await hand.click(screen.getByRole('button', { name: 'Reopen the case' }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0].body).toEqual({ reason: 'Came back, stalls when hot' });
  });
});
