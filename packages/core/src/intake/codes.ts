/**
 * Generic trouble codes of this job with their standard names: SAE J2012 / ISO 15031-6, from memory.
 * Codes that a maker defines (second character 1) have no standard name.
 */
const NAMES: Readonly<Record<string, string>> = {
  P0087: 'Fuel rail/system pressure too low',
  P0088: 'Fuel rail/system pressure too high',
  P0089: 'Fuel pressure regulator performance',
  P0090: 'Fuel pressure regulator control circuit',
  P0091: 'Fuel pressure regulator control circuit low',
  P0092: 'Fuel pressure regulator control circuit high',
  P0148: 'Fuel delivery error',
  P0171: 'System too lean, bank 1',
  P0172: 'System too rich, bank 1',
  P0174: 'System too lean, bank 2',
  P0175: 'System too rich, bank 2',
  P018B: 'Fuel pressure sensor B circuit range/performance',
  P018C: 'Fuel pressure sensor B circuit low',
  P018D: 'Fuel pressure sensor B circuit high',
  P0190: 'Fuel rail pressure sensor circuit',
  P0191: 'Fuel rail pressure sensor circuit range/performance',
  P0192: 'Fuel rail pressure sensor circuit low',
  P0193: 'Fuel rail pressure sensor circuit high',
  P0194: 'Fuel rail pressure sensor circuit intermittent',
  P0201: 'Injector circuit/open, cylinder 1',
  P0230: 'Fuel pump primary circuit',
  P0231: 'Fuel pump secondary circuit low',
  P0232: 'Fuel pump secondary circuit high',
  P0233: 'Fuel pump secondary circuit intermittent',
  P025A: 'Fuel pump module A control circuit/open',
  P025B: 'Fuel pump module A control circuit range/performance',
  P025C: 'Fuel pump module A control circuit low',
  P025D: 'Fuel pump module A control circuit high',
  P0300: 'Random/multiple cylinder misfire detected',
  P0335: 'Crankshaft position sensor A circuit',
  P0336: 'Crankshaft position sensor A circuit range/performance',
  P0340: 'Camshaft position sensor A circuit',
  P0460: 'Fuel level sensor A circuit',
  P0461: 'Fuel level sensor A circuit range/performance',
  P0513: 'Incorrect immobilizer key',
  P0560: 'System voltage',
  P0562: 'System voltage low',
  P0563: 'System voltage high',
  P0606: 'Control module processor',
  P0627: 'Fuel pump A control circuit/open',
  P0628: 'Fuel pump A control circuit low',
  P0629: 'Fuel pump A control circuit high',
  P0685: 'Control module power relay control circuit/open',
  P0686: 'Control module power relay control circuit low',
  P0687: 'Control module power relay control circuit high',
  P2635: 'Fuel pump A low flow/performance',
  U0100: 'Lost communication with engine control module',
  U0109: 'Lost communication with fuel pump control module',
};

/** First letter, then 0 to 3, then three hexadecimal digits (SAE J2012). */
export const TROUBLE_CODE = /^[PCBU][0-3][0-9A-F]{3}$/;

/** A trouble code in the form of SAE J2012, and what it is called. */
export interface TroubleCode {
  readonly code: string;
  /** Absent for maker's codes and for generic ones that have nothing to do with this job. */
  readonly name?: string;
  readonly makers: boolean;
}

/** @returns undefined when the text isn't a trouble code */
export function readTroubleCode(text: string): TroubleCode | undefined {
  const code = text.trim().toUpperCase();
  if (!TROUBLE_CODE.test(code)) return undefined;
  const name = NAMES[code];
  const makers = code[1] === '1' || /^P3[0-3]/.test(code) || (!code.startsWith('P') && code[1] === '2');
  return { code, makers, ...(name !== undefined && { name }) };
}

/** Codes beginning with the text, or named by it, for typing ahead. */
export function suggestCodes(text: string, most = 6): TroubleCode[] {
  const wanted = text.trim().toLowerCase();
  if (!wanted) return [];
  return Object.entries(NAMES)
    .filter(([code, name]) => code.toLowerCase().startsWith(wanted) || name.toLowerCase().includes(wanted))
    .slice(0, most)
    .map(([code, name]) => ({ code, name, makers: false }));
}
