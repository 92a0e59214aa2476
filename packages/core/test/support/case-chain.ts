import { repairPlan, type CaseGround, type ChainLink, type Verdict } from '../../src/index.js';

/** Builds a chain as a case's work does. */
export function chain() {
  const links: ChainLink[] = [];
  const add = (kind: string, at: string, value: unknown, more: Partial<ChainLink> = {}) => {
    const sequence = links.length + 1;
    const id = `e${sequence}`;
    links.push({
      ...{ id, sequence, kind, at, value, keyState: null, faultPresent: null, how: null },
      takenAt: new Date(1e12 + sequence * 6e4).toISOString(),
      ...more,
    });
    return id;
  };
  const read = (kind: string, at: string, value: unknown, more: Partial<ChainLink> = {}) =>
    add(kind, at, value, { keyState: 'prime', faultPresent: true, ...more });
  const volts = (at: string, value: number) => read('voltage', at, value, { how: { reference: 'battery-' } });
  const repaired = (verdict: Verdict) => {
    for (const { id, asks } of repairPlan(verdict).steps) {
      add('repair', id, asks === undefined ? { done: true } : { done: true, said: '12 Nm' });
    }
    add('repair', 'done', { what: 'Done as planned.', changed: verdict !== 'no-fault-found' });
  };
  return { links, add, read, volts, repaired };
}

/** What the core makes evidence of, for links without captures. */
export const ground = (links: readonly ChainLink[]): CaseGround => ({
  complaint: 'Cranks, no start',
  links,
  measuredOf: () => undefined,
});
