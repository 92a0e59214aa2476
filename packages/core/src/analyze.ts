import {
  scaleChannel,
  durationS,
  type Capture,
  type ChannelSetup,
  type Role,
  type ScaledChannel,
} from './capture/capture.js';
import { guessRoles } from './capture/roles.js';
import type { CannotTell } from './errors.js';
import type { Finding } from './limits/limits.js';
import { analyzePressure, type PressureResult } from './pressure/analyze-pressure.js';
import { analyzeRamp } from './ramp/analyze-ramp.js';
import type { RampResult } from './ramp/types.js';
import { levels } from './signal/levels.js';

export interface AnalyzeOptions {
  /** Setups by channel name; channels not named get a guessed role. */
  readonly setups?: Readonly<Record<string, Partial<ChannelSetup>>>;
  readonly bars?: number;
}

export interface ChannelSummary {
  readonly name: string;
  readonly role: Role;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly mean: number;
}

export interface CaptureSummary {
  readonly file: string;
  readonly sampleRateHz: number;
  readonly samples: number;
  readonly durationS: number;
  readonly channels: readonly ChannelSummary[];
}

/** One capture's whole analysis. Parts that the capture doesn't hold are absent. */
export interface Analysis {
  readonly capture: CaptureSummary;
  readonly ramp?: RampResult;
  readonly pressure?: PressureResult;
  readonly findings: readonly Finding[];
  readonly cannotTell: readonly CannotTell[];
  /** Average current of one turn by angle, A. For drawing; not part of the command line's answer. */
  readonly turnA?: Float64Array;
}

/** Scales every channel by its setup and measures whatever the roles allow. */
export function analyzeCapture(file: string, capture: Capture, options: AnalyzeOptions = {}): Analysis {
  const guessed = guessRoles(capture.channels);
  const channels = capture.channels.map((channel, i) =>
    scaleChannel(channel, { role: guessed[i], ...options.setups?.[channel.name] }),
  );
  const summary: CaptureSummary = {
    file,
    sampleRateHz: capture.sampleRateHz,
    samples: capture.channels[0]?.samples.length ?? 0,
    durationS: durationS(capture),
    channels: channels.map(({ name, role, unit, samples }) => {
      const { min, max, mean } = levels(samples);
      return { name, role, unit, min, max, mean };
    }),
  };
  const notes: CannotTell[] = capture.notes.map((because) => ({ what: 'time stamps', because }));
  const pressure = pressureOf(channels, capture);
  const current = channels.find(({ role }) => role === 'pump_current');
  if (!current) {
    const missing = { what: 'ramp', because: 'no channel is marked as the pump current' };
    return {
      capture: summary,
      ...(pressure && { pressure: pressure.pressure }),
      findings: [],
      cannotTell: [...notes, missing, ...(pressure?.cannotTell ?? [])],
    };
  }
  const rampOptions = options.bars === undefined ? {} : { bars: options.bars };
  const ramp = analyzeRamp(current, capture.sampleRateHz, capture.startS, rampOptions);
  return {
    capture: summary,
    ramp: ramp.ramp,
    ...(pressure && { pressure: pressure.pressure }),
    findings: ramp.findings,
    cannotTell: [...notes, ...ramp.cannotTell, ...(pressure?.cannotTell ?? [])],
    ...(ramp.turnA && { turnA: ramp.turnA }),
  };
}

function pressureOf(channels: readonly ScaledChannel[], { sampleRateHz, startS }: Capture) {
  const channel = channels.find(({ role, unit }) => role === 'rail_pressure' && unit === 'Pa');
  return channel && analyzePressure(channel, sampleRateHz, startS);
}
