import { TRUST_NAMES, TRUSTS } from '@jarro/core';
import { Choice, optionsOf } from '../../ui/choice';
import { BATTERY_NAMES, CONNECTOR_NAMES, HELP_CHOICES, REACHED_NAMES, type How } from './how';

/** Everything about a reading that is seldom otherwise than usual, folded away until it is. */
export function HowFields({
  how,
  onChange,
  driven,
  connector = true,
}: {
  how: How;
  onChange: (how: How) => void;
  /** The path has a driver module, so that a command stands behind every reading. */
  driven: boolean;
  /** Whether a plug may be off there. */
  connector?: boolean;
}) {
  const unusual = [
    how.connector === 'open' && CONNECTOR_NAMES.open,
    how.helped !== 'no' && HELP_CHOICES[how.helped],
    how.battery !== 'as-case' && BATTERY_NAMES[how.battery],
    how.command.trim() && `Commanded ${how.command} %`,
    how.reached !== 'probed' && REACHED_NAMES[how.reached],
    how.trust !== 'normal' && `Trusted ${TRUST_NAMES[how.trust].toLowerCase()}`,
  ].filter((text): text is string => Boolean(text));
  return (
    <details>
      <summary className="label min-h-11 cursor-pointer py-2.5">
        {unusual.length > 0 ? unusual.join(', ') : 'Taken the usual way'}: change
      </summary>
      <div className="space-y-3">
        {connector && (
          <Choice
            label="Connector"
            options={optionsOf(CONNECTOR_NAMES)}
            value={how.connector}
            onChange={(value) => onChange({ ...how, connector: value })}
          />
        )}
        <Choice
          label="The circuit meanwhile"
          options={optionsOf(HELP_CHOICES)}
          value={how.helped}
          onChange={(helped) => onChange({ ...how, helped })}
        />
        <Choice
          label="The battery meanwhile"
          options={optionsOf(BATTERY_NAMES)}
          value={how.battery}
          onChange={(battery) => onChange({ ...how, battery })}
        />
        {driven && (
          <label className="flex min-h-11 items-center gap-3">
            <span className="label">Duty commanded meanwhile, %</span>
            <input
              inputMode="decimal"
              value={how.command}
              onChange={(event) => onChange({ ...how, command: event.target.value })}
              className="min-h-11 w-24 rounded-xl border border-line bg-paper px-3 text-right"
            />
          </label>
        )}
        <Choice
          label="The pin"
          options={optionsOf(REACHED_NAMES)}
          value={how.reached}
          onChange={(reached) => onChange({ ...how, reached })}
        />
        <Choice
          label="Trust in this reading"
          options={optionsOf(TRUST_NAMES).filter(({ value }) => TRUSTS.includes(value))}
          value={how.trust}
          onChange={(trust) => onChange({ ...how, trust })}
        />
      </div>
    </details>
  );
}
