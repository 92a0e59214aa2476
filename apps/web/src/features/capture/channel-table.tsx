import { ROLES, type Role, type ScaleOffer, type ScaleQuestion } from '@jarro/core';
import { usePressureUnit } from '../../app/units';
import type { OpenedFile } from '../../workers/capture-desk';

/** What is filled in for one channel before a capture is kept. */
export interface ChannelForm {
  readonly role: Role;
  readonly factor: string;
  readonly invert: boolean;
  /** Full scale of a ratiometric 0.5 to 4.5 V transducer, in the reader's pressure unit. */
  readonly fullScale: string;
}

/** The channels of a file: what each was clipped to, and its scale, which is asked for where the file's unit can't be right. */
export function ChannelTable({
  opened,
  forms,
  questions,
  onChange,
}: {
  opened: OpenedFile;
  forms: readonly ChannelForm[];
  questions: readonly ScaleQuestion[];
  onChange: (forms: readonly ChannelForm[]) => void;
}) {
  const set = (i: number, change: Partial<ChannelForm>) =>
    onChange(forms.map((form, k) => (k === i ? { ...form, ...change } : form)));
  return (
    <table className="w-full">
      <thead className="label text-left">
        <tr>
          <th className="font-normal">Channel</th>
          <th className="font-normal">Clipped to</th>
          <th className="font-normal">A, V or Pa per unit in the file</th>
          <th className="font-normal">Backwards</th>
        </tr>
      </thead>
      <tbody>
        {opened.channels.map(({ name, header, unit }, i) => (
          <tr key={name} className="align-top">
            <td className="py-1 pt-3 pr-3 font-semibold">
              {header ?? name}{' '}
              {unit !== '1' && header === undefined && <span className="label font-normal">{unit}</span>}
            </td>
            <td className="pr-3">
              <select
                aria-label={`${name} is clipped to`}
                className="input"
                value={forms[i].role}
                onChange={(event) => set(i, { role: event.target.value as Role })}
              >
                {ROLES.map((role) => (
                  <option key={role} value={role}>
                    {roleText(role)}
                  </option>
                ))}
              </select>
            </td>
            <td className="pr-3">
              <ScaleFields
                name={name}
                unit={unit}
                form={forms[i]}
                question={questions.find(({ channel }) => channel === name)}
                onChange={(change) => set(i, change)}
              />
            </td>
            <td className="pt-2 text-center">
              <input
                aria-label={`${name} is backwards`}
                type="checkbox"
                className="size-6 accent-[var(--enamel)]"
                checked={forms[i].invert}
                onChange={(event) => set(i, { invert: event.target.checked })}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function ScaleFields({
  name,
  unit,
  form,
  question,
  onChange,
}: {
  name: string;
  unit: string;
  form: ChannelForm;
  question: ScaleQuestion | undefined;
  onChange: (change: Partial<ChannelForm>) => void;
}) {
  const pressureUnit = usePressureUnit();
  return (
    <>
      <input
        aria-label={`Scale of ${name}`}
        className="input"
        inputMode="decimal"
        placeholder={question ? 'needed' : unit === '1' ? '1' : 'as the file says'}
        value={form.factor}
        onChange={(event) => onChange({ factor: event.target.value })}
      />
      {form.role === 'rail_pressure' && (
        <label className="mt-1 flex items-center gap-2">
          <span className="label">or a 0.5 to 4.5 V transducer of</span>
          <input
            aria-label={`Full scale of ${name} in ${pressureUnit}`}
            className="input w-24"
            inputMode="decimal"
            value={form.fullScale}
            onChange={(event) => onChange({ fullScale: event.target.value })}
          />
          <span className="label">{pressureUnit}</span>
        </label>
      )}
      {question && (
        <div className="mt-2 space-y-2">
          <p className="font-semibold text-rust">
            The file gives {question.unit}. {askFor(form.role)}
          </p>
          {form.role === 'pump_current' && <UsualScales offers={question.usual} onPick={onChange} />}
        </div>
      )}
    </>
  );
}

function UsualScales({
  offers,
  onPick,
}: {
  offers: readonly ScaleOffer[];
  onPick: (change: Partial<ChannelForm>) => void;
}) {
  return (
    <div className="flex flex-wrap gap-2" role="group" aria-label="Usual scales">
      {offers.map(({ label, factor }) => (
        <button
          key={label}
          type="button"
          className="min-h-11 rounded-xl border border-ink px-4 font-semibold hover:bg-paper"
          onClick={() => onPick({ factor: String(factor) })}
        >
          {label}
        </button>
      ))}
    </div>
  );
}

function askFor(role: Role): string {
  if (role === 'pump_current') return 'Which clamp was it?';
  if (role === 'rail_pressure') return 'Which transducer was it?';
  return `That is no ${roleText(role).toLowerCase()}: give its scale, or choose another role.`;
}

function roleText(role: Role): string {
  const text = role.replaceAll('_', ' ');
  return text[0].toUpperCase() + text.slice(1);
}
