import { useMeQuery } from './api';
import type { PressureUnitName } from '@jarro/api-types';

/** The pressure unit of whoever is signed in: their own, else the shop's. */
export function usePressureUnit(): PressureUnitName {
  const { data: me } = useMeQuery();
  return me?.user.pressureUnit ?? me?.shop.pressureUnit ?? 'kPa';
}

/** A number as people type it; undefined when it is none. */
export function readNumber(text: string): number | undefined {
  const value = Number(text.trim().replace(',', '.').replace('−', '-'));
  return text.trim() && Number.isFinite(value) ? value : undefined;
}
