import { repairPlan } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { LooseEnds } from '../../src/features/repair/loose-ends';
import { RepairStage } from '../../src/features/repair/repair-stage';
import { Soak } from '../../src/features/recheck/soak';
import { EvidenceView } from '../../src/features/evidence/evidence-view';
import { Notes } from '../../src/features/notes/notes';
import { Photos } from '../../src/features/notes/photos';
import { OneCase, somebody } from '../support/one-case';
import { showOnBench } from '../support/screen';

// After the verdict: every particular ticked or left out for a reason, nothing left in the vehicle, silence weighed.

afterEach(() => localStorage.clear());

const decided = (server: OneCase) => {
  server.stage = 'decided';
  return server
    .hasSeenCautions()
    .has({ kind: 'verdict', at: 'case', value: { kind: 'replace-relay', statement: 'It.' } });
};
const PLAN = repairPlan('replace-relay');

describe('the repair', () => {
  const stage = (server: OneCase) => showOnBench(server, (item) => <RepairStage item={item} />);
  const step = (text: string) => screen.getByRole('listitem', { name: text });

  it('asks for a verdict first', async () => {
    await stage(new OneCase().hasSeenCautions());
    expect(await screen.findByText('Give the verdict first: the plan follows from it.')).toBeVisible();
  });

  it('is finished only once every particular is ticked, or left out for a reason', async () => {
    const server = decided(new OneCase());
    const { hand } = await stage(server);
    await screen.findByRole('region', { name: 'The plan' });
    const finish = () => screen.getByRole('button', { name: 'The repair is finished' });
    expect(finish()).toBeDisabled();
    for (const [i, { text, asks, id }] of PLAN.steps.entries()) {
      if (i === 0) {
        await hand.click(within(step(text)).getByRole('button', { name: 'Left out' }));
        await hand.type(within(step(text)).getByRole('textbox', { name: 'Why was it left out?' }), 'Not on this one');
        await hand.click(within(step(text)).getByRole('button', { name: 'Keep' }));
        expect(await within(step(text)).findByText('Left out: Not on this one')).toBeVisible();
        continue;
      }
      await hand.click(within(step(text)).getByRole('button', { name: 'Done' }));
      if (asks !== undefined) {
        await hand.type(within(step(text)).getByRole('textbox', { name: asks }), 'As stated');
        await hand.click(within(step(text)).getByRole('button', { name: 'Keep' }));
      }
      await within(step(text)).findByLabelText('done', { exact: true });
      expect(server.sent.at(-1)?.body).toEqual({
        at: id,
        value: asks === undefined ? { done: true } : { done: true, said: 'As stated' },
      });
    }
    expect(screen.getAllByRole('status')[0]).toHaveTextContent(`${PLAN.steps.length} of ${PLAN.steps.length}`);
    await hand.type(screen.getByRole('textbox', { name: /^What was done/ }), 'Relay replaced.');
    await hand.type(screen.getByRole('textbox', { name: 'Minutes it took' }), '25');
    await hand.click(finish());
    await waitFor(() =>
      expect(server.sent.at(-1)?.body.value).toEqual({ what: 'Relay replaced.', changed: true, minutes: 25 }),
    );
    expect(await screen.findByRole('link', { name: 'Go on to the recheck' })).toBeVisible();
  });

  it('writes down every part that went in, and lets none be nameless', async () => {
    const server = decided(new OneCase());
    const { hand } = await stage(server);
    const parts = await screen.findByRole('region', { name: 'Parts fitted' });
    await hand.click(within(parts).getByRole('button', { name: 'Add the part' }));
    expect(server.sent).toEqual([]);
    await hand.type(within(parts).getByRole('textbox', { name: 'Part' }), 'Relay, 30 A');
    await hand.type(within(parts).getByRole('textbox', { name: 'Its number' }), 'R-30');
    await hand.click(within(parts).getByRole('button', { name: 'Add the part' }));
    expect(await within(parts).findByText('Relay, 30 A')).toBeVisible();
    expect(within(parts).getByRole('textbox', { name: 'Part' })).toHaveValue('');
    expect(server.sent[0].body.value).toEqual({ name: 'Relay, 30 A', number: 'R-30' });
  });
});

describe('what is left in the vehicle', () => {
  const ends = (server: OneCase) => showOnBench(server, (item) => <LooseEnds item={item} />);

  it('is written down with where it is, and offered to be put right', async () => {
    const server = new OneCase().has({ kind: 'bridge', at: 'relay', value: 'runs' });
    const { hand } = await ends(server);
    await hand.click(await screen.findByRole('button', { name: 'Something stays in for a while' }));
    await hand.click(screen.getByRole('radio', { name: 'Test lead or adapter' }));
    await hand.type(screen.getByRole('textbox', { name: 'Which one, and where' }), 'at the pump plug');
    await hand.click(screen.getByRole('button', { name: 'Write it down' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(server.sent[0]).toMatchObject({ path: 'cases/c/left-in', body: { at: 'lead', what: 'at the pump plug' } });
    const [row] = screen.getAllByRole('listitem');
    await hand.click(within(row).getByRole('button'));
    await waitFor(() => expect(server.sent[1].path).toBe('cases/c/taken-out'));
  });

  it('says nothing where nothing is, to whoever may only read', async () => {
    await ends(new OneCase(somebody('adviser')));
    expect(screen.queryByRole('region', { name: 'Left in the vehicle' })).toBeNull();
  });
});

describe('a soak', () => {
  const soak = (server: OneCase) => showOnBench(server, (item) => <Soak item={item} />);

  it('says before the repair how long a silence will prove it', async () => {
    const server = new OneCase();
    const { hand } = await soak(server);
    await hand.type(await screen.findByRole('textbox', { name: /^Minutes/ }), '20');
    await hand.type(screen.getByRole('textbox', { name: 'Drops counted' }), '4');
    await hand.click(screen.getByRole('button', { name: 'Keep this soak' }));
    // One in five minutes: silence of t minutes has the chance exp(-t / 5) (Poisson), a twentieth at 15 minutes.
    const proof = await screen.findByText(/minutes without a drop will prove the repair/);
    const minutes = Number(/(\d+) minutes without/.exec(proof.textContent ?? '')?.[1]);
    expect(minutes).toBeGreaterThanOrEqual(Math.ceil(5 * Math.log(20)));
    expect(server.sent[0].body).toMatchObject({ kind: 'soak', value: { minutes: 20, drops: 4 }, faultPresent: true });
  });

  it('refuses words', async () => {
    const server = new OneCase();
    const { hand } = await soak(server);
    await hand.type(await screen.findByRole('textbox', { name: /^Minutes/ }), 'long');
    await hand.type(screen.getByRole('textbox', { name: 'Drops counted' }), '0');
    await hand.click(screen.getByRole('button', { name: 'Keep this soak' }));
    expect(screen.getByRole('alert')).toHaveTextContent('Type the minutes and the drops as numbers.');
    expect(server.sent).toEqual([]);
  });
});

describe('what stands in the case', () => {
  it('is struck through with a reason, never changed', async () => {
    const server = new OneCase().has({ kind: 'voltage', at: 'battery', value: 12.6 });
    const { hand } = await showOnBench(server, (item) => <EvidenceView item={item} />);
    await hand.click(await screen.findByRole('button', { name: 'Void' }));
    const why = screen.getByRole('textbox', { name: 'Why is it wrong?' });
    await hand.click(screen.getByRole('button', { name: 'Void it' }));
    expect(server.sent).toEqual([]);
    await hand.type(why, 'Wrong pin');
    await hand.click(screen.getByRole('button', { name: 'Void it' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(server.sent[0]).toMatchObject({ path: 'cases/c/evidence/link-1/void', body: { reason: 'Wrong pin' } });
  });

  it('is shown by what stands and what was voided', async () => {
    const voided = { by: 'Jem', at: '2026-03-02T09:10:00Z', reason: 'Wrong pin' };
    const server = new OneCase().has(
      { kind: 'voltage', at: 'battery', value: 12.6 },
      { kind: 'voltage', at: 'battery', value: 9.9, voided },
    );
    const { hand } = await showOnBench(server, (item) => <EvidenceView item={item} />);
    const entries = await screen.findByRole('list', { name: 'Entries' });
    expect(within(entries).getAllByRole('listitem')).toHaveLength(2);
    await hand.selectOptions(screen.getByRole('combobox', { name: 'Show' }), 'voided');
    expect(within(entries).getAllByRole('listitem')).toHaveLength(1);
    expect(entries).toHaveTextContent('voided by Jem: Wrong pin');
    await hand.selectOptions(screen.getByRole('combobox', { name: 'Show' }), 'standing');
    expect(entries).toHaveTextContent('12.6');
  });

  it('gets a note that comes back to be written again where it is refused', async () => {
    const server = new OneCase();
    const { hand } = await showOnBench(server, (item) => <Notes item={item} stage="current" />);
    const field = await screen.findByRole('textbox');
    await hand.type(field, 'Clamp moved.');
    await hand.click(screen.getByRole('button', { name: 'Keep this note' }));
    expect(await screen.findByText('Clamp moved.', { selector: 'p' })).toBeVisible();
    expect(field).toHaveValue('');
    server.refusal = 'The case is closed.';
    await hand.type(field, 'One more.');
    await hand.click(screen.getByRole('button', { name: 'Keep this note' }));
    expect(await screen.findByText('The case is closed.')).toBeVisible();
    expect(field).toHaveValue('One more.');
    expect(screen.queryByText('One more.', { selector: 'p' })).toBeNull();
  });

  it('takes no photo that is too large, and says how to take it', async () => {
    const server = new OneCase();
    const { hand } = await showOnBench(server, (item) => <Photos item={item} stage="current" />);
    const large = new File([new Uint8Array(3 * 1024 * 1024)], 'big.jpg', { type: 'image/jpeg' });
    await hand.upload(await screen.findByLabelText('Photo file'), large);
    expect(screen.getByRole('alert')).toHaveTextContent(
      'big.jpg is 3 MiB, over the limit of 2 MiB. Take it at a lower resolution.',
    );
    expect(server.sent).toEqual([]);
  });
});
