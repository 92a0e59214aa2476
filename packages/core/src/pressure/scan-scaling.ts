/** SAE J1979 / ISO 15031-5 scalings of the parameters of this job, from memory. Bytes A and B, 0 to 255. */

/** PID 06 to 09, fuel trims, %. */
export const fuelTrimPercent = (a: number): number => ((a - 128) * 100) / 128;

/** PID 0A, fuel pressure, Pa gauge. */
export const fuelPressurePa = (a: number): number => 3e3 * a;

/** PID 22, fuel rail pressure relative to manifold vacuum, Pa. */
export const railRelativePa = (a: number, b: number): number => 79 * (256 * a + b);

/** PID 23, fuel rail gauge pressure, Pa. */
export const railGaugePa = (a: number, b: number): number => 10e3 * (256 * a + b);

/** PID 0C, engine speed, rpm. */
export const engineSpeedRpm = (a: number, b: number): number => (256 * a + b) / 4;
