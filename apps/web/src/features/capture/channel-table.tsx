import { ROLES, type Role, type ScaleQuestion } from '@jarro/core';
import type { OpenedFile } from '../../workers/capture-desk';
import { withRole, type ChannelForm } from './channel-setup';
import { ToolChoice } from './tool-choice';

/** The channels of a file: what each was clipped to and with what, which is asked for where the file's unit can't be right. */
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
  const set = (i: number, changed: ChannelForm) => onChange(forms.map((form, k) => (k === i ? changed : form)));
  return (
    <table className="w-full">
      <thead className="label text-left">
        <tr>
          <th className="font-normal">Channel</th>
          <th className="font-normal">Clipped to</th>
          <th className="font-normal">With</th>
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
                onChange={(event) => set(i, withRole(forms[i], event.target.value as Role))}
              >
                {ROLES.map((role) => (
                  <option key={role} value={role}>
                    {roleText(role)}
                  </option>
                ))}
              </select>
            </td>
            <td className="pr-3">
              <ToolChoice
                name={name}
                unit={unit}
                role={forms[i].role}
                tool={forms[i].tool}
                question={questionOf(
                  questions.find(({ channel }) => channel === name),
                  forms[i].role,
                )}
                onChange={(tool) => set(i, { ...forms[i], tool })}
              />
            </td>
            <td className="pt-2 text-center">
              <input
                aria-label={`${name} is backwards`}
                type="checkbox"
                className="size-6 accent-[var(--enamel)]"
                checked={forms[i].invert}
                onChange={(event) => set(i, { ...forms[i], invert: event.target.checked })}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What is asked where the file's unit contradicts the role. */
function questionOf(question: ScaleQuestion | undefined, role: Role): string | undefined {
  if (!question) return undefined;
  const ask =
    role === 'pump_current'
      ? 'Which clamp was it?'
      : role === 'rail_pressure'
        ? 'Which transducer was it?'
        : `That is no ${roleText(role).toLowerCase()}: choose another role.`;
  return `The file gives ${question.unit}. ${ask}`;
}

function roleText(role: Role): string {
  const text = role.replaceAll('_', ' ');
  return text[0].toUpperCase() + text.slice(1);
}
