import { PATHS, readProfile, templateProfile, type SystemProfile } from '@jarro/core';
import type { PressureUnitName } from '@jarro/api-types';
import { formOf, type ProfileForm } from '../src/features/systems/profile-form';
import { profileOf } from '../src/features/systems/profile-of';
import { problemsOf } from '../src/features/systems/profile-problems';

// A system is written as texts; what nobody touched must come back as it was, to the last pascal.

/** A path with everything on it that a system can hold. */
const FULL: SystemProfile = {
  ...templateProfile('P4'),
  bars: 8,
  ripplePercent: 12.5,
  regulator: 'control-unit',
  // Of a state that the form doesn't show: it is kept all the same.
  currentWindows: { prime: { minA: 3.25, maxA: 7.5 }, 'after-off': { minA: 0, maxA: 0.1 } },
  pressureWindows: { prime: { minPa: 299_999, maxPa: 400_123.4 }, idle: { minPa: 250e3, maxPa: 300e3 } },
  speedWindows: { idle: { minRpm: 4000, maxRpm: 6500 } },
  commandTable: [
    [20, 40],
    [50, 100],
  ],
  sensorTable: [
    [0.5, 0],
    [4.5, 1_000_001],
  ],
  feedbackTable: [{ fromPercent: 40, toPercent: 60, meaning: 'All normal' }],
  stations: templateProfile('P4').stations.map((station) =>
    station.kind === 'relay'
      ? {
          ...station,
          ...{
            pin: '87',
            colour: 'grey',
            location: 'Box under the bonnet',
            ohm: 0.3,
            sharedA: 3,
            secondPump: true,
          },
          bypass: { name: 'Oil-pressure switch', ohm: 0.04 },
          pins: [
            { role: '85, coil', pin: 'B4' },
            { role: 'a shield', pin: '9', colour: 'bare' },
          ],
        }
      : station,
  ),
};

const after = (change: (form: ProfileForm) => ProfileForm, profile = FULL, unit: PressureUnitName = 'kPa') => {
  const form = change(formOf(profile, unit));
  const written = profileOf(form, profile, unit);
  return { written, problems: problemsOf(form, written).map(({ field }) => field) };
};

it.each([...PATHS.map((path) => [path, templateProfile(path)] as const), ['a full one', FULL] as const])(
  'gives %s back as it was, in every unit of pressure',
  (_name, profile) => {
    for (const unit of ['kPa', 'bar', 'psi'] as const) {
      const form = formOf(profile, unit);
      const back = profileOf(form, profile, unit);
      const numbers = (one: SystemProfile) => JSON.parse(JSON.stringify(one)) as SystemProfile;
      expect(readProfile(numbers(back))).toEqual(readProfile(numbers(profile)));
      expect(problemsOf(form, back)).toEqual([]);
    }
  },
);

it('writes a changed pressure in pascals, by the unit that it was typed in', () => {
  const { written, problems } = after((form) => ({ ...form, pump: { ...form.pump, pressure: '50' } }), FULL, 'psi');
  // 1 psi = 6 894.757 Pa (NIST SP 811, appendix B.8).
  expect(written.pump.pressurePa).toBeCloseTo(344_737.9, 0);
  expect(problems).toEqual([]);
});

it('leaves out what was emptied', () => {
  const { written } = after((form) => ({
    ...form,
    bars: ' ',
    regulator: '',
    windows: { ...form.windows, idle: { ...form.windows.idle, speed: { from: '', to: '' } } },
    commandTable: form.commandTable.map(() => ({ from: '', to: '' })),
    stations: form.stations.map((station) => ({ ...station, bypass: { name: '', ohm: '0.04' }, sharedA: '' })),
  }));
  expect(written).not.toHaveProperty('bars');
  expect(written).not.toHaveProperty('regulator');
  expect(written).not.toHaveProperty('speedWindows');
  expect(written).not.toHaveProperty('commandTable');
  expect(written.currentWindows['after-off']).toEqual({ minA: 0, maxA: 0.1 });
  for (const station of written.stations) {
    expect(station).not.toHaveProperty('bypass');
    expect(station).not.toHaveProperty('secondPump');
  }
});

it.each<[string, (form: ProfileForm) => ProfileForm, string]>([
  ['a number that is none', (form) => ({ ...form, primeS: 'two' }), 'primeS'],
  ['an end of a window alone', (form) => withDraw(form, { from: '3', to: '' }), 'windows.loaded.draw'],
  ['a window upside down', (form) => withDraw(form, { from: '9', to: '3' }), 'windows.loaded.draw'],
  ['half a row', (form) => ({ ...form, sensorTable: [{ from: '1', to: '' }] }), 'sensorTable[0]'],
  [
    'a feedback without a meaning',
    (form) => ({ ...form, feedbackTable: [{ from: '1', to: '5', meaning: '' }] }),
    'feedbackTable',
  ],
  [
    'ohms of a second way that are no number',
    (form) => ({
      ...form,
      stations: form.stations.map((s) => (s.kind === 'relay' ? { ...s, bypass: { name: 'x', ohm: '?' } } : s)),
    }),
    `stations[${FULL.stations.findIndex(({ kind }) => kind === 'relay')}].bypass`,
  ],
])('keeps no system with %s', (_name, change, field) => {
  expect(after(change).problems).toContain(field);
});

function withDraw(form: ProfileForm, draw: ProfileForm['windows']['idle']['draw']): ProfileForm {
  return { ...form, windows: { ...form.windows, loaded: { ...form.windows.loaded, draw } } };
}
