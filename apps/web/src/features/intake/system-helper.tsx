import { guessSystem, SYSTEM_KINDS, SYSTEMS, type SystemFeatures, type YesNoUnknown } from '@jarro/core';
import { useFormContext, useWatch } from 'react-hook-form';
import { Choice } from '../../ui/choice';
import type { IntakeForm } from './intake-form';

const QUESTIONS: Readonly<Record<keyof SystemFeatures, string>> = {
  railSensor: 'Pressure sensor on the rail?',
  returnLine: 'Return line from the rail?',
  module: 'Driver module for the pump?',
};
const ANSWERS: readonly { value: YesNoUnknown; label: string }[] = [
  { value: 'yes', label: 'Yes' },
  { value: 'no', label: 'No' },
  { value: 'unknown', label: 'Don’t know' },
];

/** Three things to look at say which system it is; service information often doesn't. */
export function SystemHelper() {
  const { register, control, getValues, setValue } = useFormContext<IntakeForm>();
  const [given, system] = useWatch({ control, name: ['intake.features', 'intake.system'] });
  const guess = guessSystem(given);
  const answer = (change: Partial<SystemFeatures>) => {
    const features = { ...given, ...change };
    setValue('intake.features', features);
    setValue('intake.system', guessSystem(features).kind);
    // Without a sensor its table goes, and what was typed for it.
    if (features.railSensor !== 'yes') {
      setValue('typed.sensor', { ...getValues('typed.sensor'), volts: '', pressure: '' });
    }
  };
  const info = SYSTEMS[system];
  return (
    <section aria-label="Fuel system" className="space-y-3 rounded-2xl border border-line p-4">
      <div className="grid gap-3 md:grid-cols-3">
        {(Object.keys(QUESTIONS) as (keyof SystemFeatures)[]).map((feature) => (
          <Choice
            key={feature}
            label={QUESTIONS[feature]}
            options={ANSWERS}
            value={given[feature]}
            onChange={(value) => answer({ [feature]: value })}
          />
        ))}
      </div>
      <div className="grid items-end gap-3 md:grid-cols-[auto_1fr]">
        <label className="block">
          <span className="label">Fuel system</span>
          <select className="input mt-1 font-semibold" {...register('intake.system')}>
            {SYSTEM_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {SYSTEMS[kind].title}
              </option>
            ))}
          </select>
        </label>
        <p className="pb-2 text-soft">{info.regulation}</p>
      </div>
      {guess.kind !== system && guess.kind !== 'unknown' && (
        <p className="font-semibold text-ochre">
          The three answers point to: {SYSTEMS[guess.kind].title.toLowerCase()}.
        </p>
      )}
      {guess.doubts.map((doubt) => (
        <p key={doubt} className="text-[0.93rem] text-ochre">
          {doubt}
        </p>
      ))}
      {info.highSide && (
        <p className="font-semibold text-rust">
          High-pressure side: never opened here. It penetrates skin; read it by scan tool only.
        </p>
      )}
    </section>
  );
}
