import { HELP_NAMES, type Helped, type HowTaken, type Trust } from '@jarro/core';
import { readNumber } from '../../app/units';

/** How a reading was taken, as it is chosen on its sheet. */
export interface How {
  readonly connector: 'loaded' | 'open';
  readonly helped: Helped | 'no';
  readonly battery: 'as-case' | 'boosted' | 'alone';
  /** Duty commanded meanwhile, as typed. */
  readonly command: string;
  /** How the pin was reached. */
  readonly reached: keyof typeof REACHED_NAMES;
  readonly trust: Trust;
}

export const REACHED_NAMES = { probed: 'Back-probed', pierced: 'Insulation pierced' } as const;

export const USUAL_WAY: How = {
  connector: 'loaded',
  helped: 'no',
  battery: 'as-case',
  command: '',
  reached: 'probed',
  trust: 'normal',
};

export const CONNECTOR_NAMES = { loaded: 'Plug on, current flowing', open: 'Plug off' } as const;
export const HELP_CHOICES = { no: 'As it is', ...HELP_NAMES } as const satisfies Record<How['helped'], string>;
export const BATTERY_NAMES = {
  'as-case': 'As the intake says',
  boosted: 'Jump pack or charger on',
  alone: 'On its own',
} as const satisfies Record<How['battery'], string>;

/** What the server is told of it: nothing of what is usual. */
export function howTaken({ connector, helped, battery, command, reached, trust }: How): HowTaken {
  const commandPercent = readNumber(command);
  return {
    trust,
    ...(connector === 'open' && { unloaded: true }),
    ...(helped !== 'no' && { helped }),
    ...(battery !== 'as-case' && { boosted: battery === 'boosted' }),
    ...(reached === 'pierced' && { pierced: true }),
    ...(commandPercent !== undefined && { commandPercent }),
  };
}
