import {
  asRecord,
  clampOf,
  CsvReader,
  guessRoles,
  probeOf,
  signalOf,
  transducerOf,
  type ScaledTool,
} from '@jarro/core';
import { setupOf, shownBy, withRole } from '../src/features/capture/channel-setup';

/** A file's one channel, read as the interface reads it, with the number that stands in its first row. */
function read(header: string, number: number) {
  const reader = new CsvReader({});
  const rows = Array.from({ length: 20 }, (_, i) => `${i / 1000},${number + (i % 2)}`).join('\n');
  reader.push(new TextEncoder().encode(`Time (s),${header}\n${rows}\n`));
  const capture = reader.finish();
  const channel = { ...capture.channels[0], role: guessRoles(capture.channels)[0] };
  return { channel, record: asRecord(capture).channels[0] };
}

type Case = [
  header: string,
  number: number,
  tool: ScaledTool | undefined,
  role: string,
  invert: boolean,
  is: number,
  zeroA?: number,
];

const CASES: Case[] = [
  ['Clamp (mV)', 500, clampOf(100), 'pump_current', false, 5],
  ['Clamp (V)', 0.5, clampOf(100), 'pump_current', true, -5],
  ['Clamp', 500, undefined, 'pump_current', false, 500],
  ['Pump current (mA)', 5000, undefined, 'pump_current', false, 5],
  ['Rail (V)', 2.5, transducerOf(1e6, 'blue'), 'rail_pressure', false, 500_000],
  ['Rail (mV)', 2500, transducerOf(1e6, 'blue'), 'rail_pressure', false, 500_000],
  ['Feed (V)', 1.25, probeOf(10), 'pump_feed_voltage', false, 12.5],
  ['Pump current (A)', 5, undefined, 'pump_current', false, 4.7, 0.3],
  ['Pump current (mA)', 5000, undefined, 'pump_current', true, -4.7, 0.3],
  ['Clamp (mV)', 500, clampOf(100), 'pump_current', false, 5.2, -0.2],
  ['Clamp (V)', 0.5, clampOf(100), 'pump_current', false, 5, 0],
];

it.each(CASES)(
  '%s: what is drawn before it is kept is what is measured',
  (...[header, number, tool, role, invert, is, zeroA]: Case) => {
    const { channel, record } = read(header, number);
    const form = { role: role as typeof channel.role, tool, invert, zeroA };
    const setup = setupOf(channel, form);
    expect(setup.zero !== undefined).toBe(zeroA !== undefined || role === 'rail_pressure');
    const measured = signalOf(record, setup).source.read(0, 1)[0];
    expect(measured).toBeCloseTo(is, is > 1e5 ? -1 : 4);
    expect(shownBy(channel, form).of(record.source.read(0, 1)[0]) / measured).toBeCloseTo(1, 5);
  },
);

it('lets go of a clamp and its zero when the channel turns out to be a pressure', () => {
  const form = { role: 'pump_current', tool: clampOf(10), invert: false, zeroA: 0 } as const;
  expect(withRole(form, 'rail_pressure')).toEqual({ role: 'rail_pressure', tool: undefined, invert: false });
  expect(withRole(form, 'pump_current')).toEqual(form);
});
