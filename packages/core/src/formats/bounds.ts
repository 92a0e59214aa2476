import { InputError } from '../errors.js';

/**
 * What a file may ask for. Recorders of this trade have 2 to 16 channels; the bounds lie well above what they write and
 * well below what would take a computer down, and each is checked before anything of that size is allocated.
 */
export const MOST_CHANNELS = 64;
/** Empty columns and a time column may stand beside the channels. */
export const MOST_COLUMNS = 4 * MOST_CHANNELS;
export const LONGEST_LINE_BYTES = 64 * 1024;
/** Over all channels, as long as a record is held whole: 160 MB of 32-bit floats. */
export const MOST_SAMPLES = 40e6;
/** From a logger's reading every quarter of an hour to the fastest oscilloscopes. */
export const LEAST_RATE_HZ = 1e-3;
export const MOST_RATE_HZ = 1e11;
/** Samples are kept as 32-bit floats (IEEE 754 binary32). */
export const MOST_VALUE = 3.4028234663852886e38;

/** @throws InputError when a record has more channels or samples than can be read */
export function refuseSize(channels: number, samplesEach: number): void {
  if (channels > MOST_CHANNELS) {
    throw new InputError(
      `This file has ${channels} channels; Jarro reads up to ${MOST_CHANNELS}. Export only the channels that were clipped on.`,
    );
  }
  if (channels * samplesEach > MOST_SAMPLES) {
    throw new InputError(
      `This file holds more than ${MOST_SAMPLES / 1e6} million samples over all channels. Export a shorter record, fewer channels or a lower rate.`,
    );
  }
}

/** @throws InputError for a rate that no recorder has */
export function refuseRate(rateHz: number): number {
  if (rateHz >= LEAST_RATE_HZ && rateHz <= MOST_RATE_HZ) return rateHz;
  throw new InputError(
    `A sample rate of ${rateHz.toPrecision(3)} a second can't be: check the time column's unit, or give the rate the scope was set to.`,
    { code: 'rate-unknown' },
  );
}
