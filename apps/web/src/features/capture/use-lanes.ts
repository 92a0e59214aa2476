import { inShopUnit, type PressureUnitName, type Role } from '@jarro/core';
import type { CaptureItem } from '@jarro/api-types';
import { useMemo } from 'react';
import { usePressureUnit } from '../../app/units';
import type { Span, TraceSignal } from '../../charts/signals';
import type { TraceSource } from '../../charts/trace-window';
import { gapSpans, incidentSpans, spansOf, stepSpans } from './spans';

/** The current first, then what the pump gets, then what asks for it, then the pressure; the rest as in the file. */
const ORDER: readonly Role[] = [
  'pump_current',
  'pump_feed_voltage',
  'pump_ground_voltage',
  'relay_output_voltage',
  'command_signal',
  'module_output_voltage',
  'feedback_signal',
  'module_supply_voltage',
  'battery_voltage',
  'rail_pressure',
  'rail_sensor_voltage',
  'injector_signal',
  'other',
];

/** What matters most first. */
export function inLaneOrder(a: { readonly role: Role }, b: { readonly role: Role }): number {
  return ORDER.indexOf(a.role) - ORDER.indexOf(b.role);
}

/** The id of a channel's signal, by its place in the record. */
export const channelId = (index: number) => `channel ${index}`;
export const mathId = (channel: number) => `math ${channel}`;

/** A stored capture's channels as signals, with what was measured drawn where it was measured, and what is worked out of them. */
export function useSignals({ id, channels, analysis, math }: CaptureItem): TraceSignal[] {
  const pressureUnit = usePressureUnit();
  return useMemo(() => {
    const incidents = incidentSpans(analysis?.sequence?.incidents ?? []);
    const steps = stepSpans(analysis?.sweep ?? []);
    const spansFor = (name: string, role: Role): Span[] => {
      const train = analysis?.pulses?.[name];
      if (train) return [...(role === 'command_signal' ? steps : []), ...gapSpans(train)];
      // Named on the command's own lane; the current's has labels of its own.
      const common = [...steps.map(({ label: _, ...step }) => step), ...incidents];
      return role === 'pump_current' && analysis?.ramp ? [...spansOf(analysis.ramp), ...common] : common;
    };
    const own = channels
      .map(({ name, role, unit }, index) => ({
        role,
        signal: {
          id: channelId(index),
          name,
          ...shownIn(unit, pressureUnit, `${id}/window?channel=${index}&`),
          spans: spansFor(name, role),
        },
      }))
      .sort(inLaneOrder)
      .map(({ signal }) => signal);
    const workedOut = math.map(({ channel, name, unit }) => ({
      id: mathId(channel),
      name,
      ...shownIn(unit, pressureUnit, `${id}/math/${channel}/window?`),
      spans: incidents,
    }));
    return [...own, ...workedOut];
  }, [id, channels, analysis, math, pressureUnit]);
}

/** Another record's pump current on this one's time: both switch on at once, or begin at once where either shows no start. */
export function currentBeside(other: CaptureItem, here: CaptureItem, name: string): TraceSignal | undefined {
  const index = other.channels.findIndex(({ role }) => role === 'pump_current');
  if (index < 0) return undefined;
  const [there, mine] = [other.analysis?.ramp?.onsetS, here.analysis?.ramp?.onsetS];
  const laterS = there === undefined || mine === undefined ? here.startS - other.startS : mine - there;
  const { samples, sampleRateHz, startS } = other;
  return {
    id: `beside ${other.id}`,
    name,
    unit: other.channels[index].unit,
    source: sourceOf(`${other.id}/window?channel=${index}&`),
    of: { recorded: { samples, sampleRateHz, startS }, laterS },
  };
}

function shownIn(unit: string, pressureUnit: PressureUnitName, path: string): Pick<TraceSignal, 'unit' | 'source'> {
  const shown = inShopUnit(unit, pressureUnit);
  return { unit: shown.unit, source: sourceOf(path, shown.factor) };
}

/** @param factor from the samples' SI unit to the one that is shown */
function sourceOf(path: string, factor = 1): TraceSource {
  return async ({ from, to }, columns, signal) => {
    const response = await fetch(`/api/captures/${path}from=${from}&to=${to}&columns=${columns}`, { signal });
    if (!response.ok) throw new Error(`The window was answered with ${response.status}.`);
    const pairs = new Float32Array(await response.arrayBuffer());
    if (factor !== 1) for (let i = 0; i < pairs.length; i++) pairs[i] *= factor;
    return pairs;
  };
}
