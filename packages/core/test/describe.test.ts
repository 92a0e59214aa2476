import {
  describeEvidence,
  ENTRY_KINDS,
  EVIDENCE,
  sentenceOf,
  templateProfile,
  type Describable,
} from '../src/index.js';

const profile = templateProfile('P4');
const [relay] = profile.stations.filter(({ kind }) => kind === 'relay');
const say = (entry: Describable, unit: 'psi' | 'bar' | 'kPa' = 'kPa') =>
  sentenceOf(describeEvidence(entry, profile, unit));

it.each<[string, Describable]>([
  [
    `${relay.name}: 11.17 V against battery −, prime, fault present`,
    { kind: 'voltage', at: relay.id, value: 11.17, keyState: 'prime', faultPresent: true },
  ],
  [
    `${relay.name}: 12.60 V against chassis, plug off, key off, fault absent`,
    {
      ...({ kind: 'voltage', at: relay.id, value: 12.6, keyState: 'off', faultPresent: false } as const),
      ...({ reference: 'chassis', unloaded: true } as const),
    },
  ],
  [
    `Swapped: ${relay.name}: runs, prime, fault present`,
    { kind: 'swap', at: relay.id, value: 'runs', keyState: 'prime', faultPresent: true },
  ],
  [
    `${relay.name}: not possible here, prime, fault present`,
    { kind: 'voltage', at: relay.id, value: 'not-possible', keyState: 'prime', faultPresent: true },
  ],
  [
    'Volume: 0.50 L in 15 s, idle, fault present',
    { kind: 'volume', at: 'rail', value: { volumeM3: 5e-4, durationS: 15 }, keyState: 'idle', faultPresent: true },
  ],
  [
    'Capture: 4.01 A, ripple 12 %, 5930 rpm, even',
    { kind: 'capture', at: 'pump', value: { meanA: 4.01, ripplePercent: 12, rpm: 5930, pattern: 'even' } },
  ],
])('%s', (sentence, entry) => {
  expect(say(entry)).toBe(sentence);
});

it('shows a pressure in the reader’s unit (NIST SP 811: 1 psi is 6.894757 kPa)', () => {
  const entry: Describable = { kind: 'pressure', at: 'rail', value: 275_790, keyState: 'idle', faultPresent: true };
  expect(say(entry, 'psi')).toContain('40.0 psi');
  expect(say(entry, 'bar')).toContain('2.76 bar');
  expect(say(entry, 'kPa')).toContain('276 kPa');
});

it('has words for every kind of evidence wherever it is taken, and none with an underscore or a bare id', () => {
  for (const kind of ENTRY_KINDS) {
    const { example } = EVIDENCE[kind];
    const entry = { kind, keyState: 'idle', faultPresent: true, ...example } as unknown as Describable;
    const at = typeof entry.at === 'string' ? entry.at : profile.stations[0].id;
    const { title, text } = describeEvidence({ ...entry, at }, profile, 'kPa');
    expect({ kind, title }).toEqual({ kind, title: expect.not.stringMatching(/_|^$/) as string });
    expect({ kind, text }).toEqual({ kind, text: expect.not.stringMatching(/_|undefined|NaN|\[object|^$/) as string });
  }
});
