import {
  guessSystem,
  SYSTEM_KINDS,
  SYSTEMS,
  type Intake,
  type SystemFeatures,
  type SystemKind,
  type YesNoUnknown,
} from '@jarro/core';
import { Choice } from '../../ui/choice';

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
export function SystemHelper({ intake, onChange }: { intake: Intake; onChange: (changes: Partial<Intake>) => void }) {
  const guess = guessSystem(intake.features);
  const answer = (change: Partial<SystemFeatures>) => {
    const features = { ...intake.features, ...change };
    onChange({ features, system: guessSystem(features).kind });
  };
  const info = SYSTEMS[intake.system];
  return (
    <section aria-label="Fuel system" className="space-y-3 rounded-2xl border border-line p-4">
      <div className="grid gap-3 md:grid-cols-3">
        {(Object.keys(QUESTIONS) as (keyof SystemFeatures)[]).map((feature) => (
          <Choice
            key={feature}
            label={QUESTIONS[feature]}
            options={ANSWERS}
            value={intake.features[feature]}
            onChange={(value) => answer({ [feature]: value })}
          />
        ))}
      </div>
      <div className="grid items-end gap-3 md:grid-cols-[auto_1fr]">
        <label className="block">
          <span className="label">Fuel system</span>
          <select
            className="input mt-1 font-semibold"
            value={intake.system}
            onChange={(event) => onChange({ system: event.target.value as SystemKind })}
          >
            {SYSTEM_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {SYSTEMS[kind].title}
              </option>
            ))}
          </select>
        </label>
        <p className="pb-2 text-soft">{info.regulation}</p>
      </div>
      {guess.kind !== intake.system && guess.kind !== 'unknown' && (
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
