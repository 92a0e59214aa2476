import type { PulseTrain } from './types.js';

/** In words when a line is switched: "from 1.00 s until 3.00 s and from 6.00 s"; nothing for one that is all through. */
export function whenSwitched({ fromS, untilS, rests = [] }: Pick<PulseTrain, 'fromS' | 'untilS' | 'rests'>): string {
  const begins = [fromS, ...rests.map((rest) => rest.untilS)];
  const ends = [...rests.map((rest) => rest.fromS), untilS];
  const stretches = begins.map((begin, i) => {
    const end = ends[i];
    const words = [begin !== undefined && `from ${seconds(begin)}`, end !== undefined && `until ${seconds(end)}`];
    return words.filter(Boolean).join(' ');
  });
  return stretches.join(' and ');
}

const seconds = (value: number) => `${value.toFixed(2)} s`;
