import { ROLES, type Role, type ScaleQuestion } from '@jarro/core';
import type { OpenedFile } from '../../workers/capture-desk';
import { DataTable } from '../../ui/data-table';
import { withRole, type ChannelForm } from './channel-setup';
import { ClampZero } from './clamp-zero';
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
    <DataTable
      rows={opened.channels.map((channel, i) => ({ ...channel, i, form: forms[i] }))}
      keyOf={({ name }) => name}
      rowClass={() => 'align-top'}
      columns={[
        {
          title: 'Channel',
          className: 'pt-3 font-semibold',
          cell: ({ name, header, unit }) => (
            <>
              {header ?? name}{' '}
              {unit !== '1' && header === undefined && <span className="label font-normal">{unit}</span>}
            </>
          ),
        },
        {
          title: 'Clipped to',
          cell: ({ name, i, form }) => (
            <select
              aria-label={`${name} is clipped to`}
              className="input"
              value={form.role}
              onChange={(event) => set(i, withRole(form, event.target.value as Role))}
            >
              {ROLES.map((role) => (
                <option key={role} value={role}>
                  {roleText(role)}
                </option>
              ))}
            </select>
          ),
        },
        {
          title: 'With',
          cell: ({ name, unit, i, form }) => {
            const question = questions.find(({ channel }) => channel === name);
            return (
              <ToolChoice
                {...{ name, unit, role: form.role, tool: form.tool, question: questionOf(question, form.role) }}
                onChange={(tool) => set(i, { ...form, tool })}
              />
            );
          },
        },
        {
          title: 'Zero',
          cell: ({ name, i, form }) =>
            form.role === 'pump_current' && (
              <ClampZero {...{ name, zeroA: form.zeroA }} onChange={(zeroA) => set(i, { ...form, zeroA })} />
            ),
        },
        {
          title: 'Backwards',
          cell: ({ name, i, form }) => (
            <input
              aria-label={`${name} is backwards`}
              type="checkbox"
              className="size-6 accent-[var(--enamel)]"
              checked={form.invert}
              onChange={(event) => set(i, { ...form, invert: event.target.checked })}
            />
          ),
        },
      ]}
    />
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
