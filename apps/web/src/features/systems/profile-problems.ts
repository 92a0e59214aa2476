import { checkProfile, KEY_STATE_NAMES, type FieldProblem, type SystemProfile } from '@jarro/core';
import { readNumber } from '../../app/units';
import { EXPECTED_STATES, isBlank, WINDOW_KINDS, type Ends, type ProfileForm } from './profile-form';

/** Everything that keeps a system from being kept: what is half typed first, then what can't work. */
export function problemsOf(form: ProfileForm, profile: SystemProfile): readonly FieldProblem[] {
  const noNumbers = numbersIn(form)
    .filter(([, text]) => text.trim() !== '' && readNumber(text) === undefined)
    .map(([field, text]) => ({ field, message: `“${text.trim()}” is not a number.` }));
  const halves = EXPECTED_STATES.flatMap((state) =>
    WINDOW_KINDS.filter((kind) => !isWindow(form.windows[state][kind])).map((kind) => ({
      field: `windows.${state}.${kind}`,
      message: `${KEY_STATE_NAMES[state]}, ${kind}: give two numbers, the lower first, or empty both.`,
    })),
  );
  const meanings = (profile.feedbackTable ?? [])
    .filter(({ fromPercent, toPercent, meaning }) => !Number.isFinite(fromPercent + toPercent) || meaning === '')
    .map(() => ({ field: 'feedbackTable', message: 'A feedback duty has two numbers and what it means.' }));
  const isSaid = (field: string) => noNumbers.some((problem) => problem.field === field);
  return [...noNumbers, ...checkProfile(profile).filter(({ field }) => !isSaid(field)), ...halves, ...meanings];
}

/** Every number's text, by the field of the profile that it goes to. */
function numbersIn({ stations, pump, primeS, bars, ripplePercent }: ProfileForm): (readonly [string, string])[] {
  return [
    ...stations.flatMap(({ accessMinutes, ohm, sharedA, wire, bypass }, i) =>
      Object.entries({ accessMinutes, ohm, sharedA, wire: wire.lengthM, bypass: bypass.ohm }).map(
        ([field, text]) => [`stations[${i}].${field}`, text] as const,
      ),
    ),
    ...Object.entries(pump).map(([field, text]) => [`pump.${field}`, text] as const),
    ...Object.entries({ primeS, bars, ripplePercent }),
  ];
}

function isWindow(ends: Ends): boolean {
  const [from, to] = [readNumber(ends.from), readNumber(ends.to)];
  return isBlank(ends) || (from !== undefined && to !== undefined && from < to);
}
