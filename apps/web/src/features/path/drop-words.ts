/** A stretch's resistance; a dash where no current was read. */
export function ohmText(ohm: number | undefined): string {
  return ohm === undefined ? '–' : `${ohm.toFixed(3)} Ω`;
}

export function wattText(watt: number | undefined): string {
  return watt === undefined ? '–' : `${watt.toFixed(1)} W`;
}
