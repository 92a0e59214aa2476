import { fromPascal, type PressureUnitName, type Role } from '@jarro/core';
import type { CaptureItem } from '@jarro/api-types';
import { useMemo } from 'react';
import { usePressureUnit } from '../../app/units';
import type { LaneSignal, Span } from '../../charts/lane';
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

/** A stored capture's channels as lanes, with what was measured drawn where it was measured. */
export function useLanes({ id, channels, analysis }: CaptureItem): LaneSignal[] {
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
    return channels
      .map(({ name, role, unit }, index) => ({
        role,
        lane: {
          name,
          unit: unit === 'Pa' ? pressureUnit : unit,
          source: sourceOf(id, index, unit === 'Pa' ? pressureUnit : undefined),
          spans: spansFor(name, role),
        },
      }))
      .sort(inLaneOrder)
      .map(({ lane }) => lane);
  }, [id, channels, analysis, pressureUnit]);
}

/** @param pressureUnit shown in place of pascals */
function sourceOf(id: string, channel: number, pressureUnit: PressureUnitName | undefined): TraceSource {
  return async ({ from, to }, columns, signal) => {
    const query = `channel=${channel}&from=${from}&to=${to}&columns=${columns}`;
    const response = await fetch(`/api/captures/${id}/window?${query}`, { signal });
    if (!response.ok) throw new Error(`The window was answered with ${response.status}.`);
    const pairs = new Float32Array(await response.arrayBuffer());
    return pressureUnit ? pairs.map((pascal) => fromPascal(pascal, pressureUnit)) : pairs;
  };
}
