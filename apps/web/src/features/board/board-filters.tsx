import { FAMILIES, FAMILY_NAMES, VERDICT_NAMES, VERDICTS, type Family, type Verdict } from '@jarro/core';
import { Search } from 'lucide-react';
import { usePeopleQuery, type BoardQuestion } from '../../app/api';
import { useMay } from '../session/use-may';

const STAGES: readonly { readonly value: BoardQuestion['stage']; readonly label: string }[] = [
  { value: '', label: 'All cases' },
  { value: 'open', label: 'Open' },
  { value: 'decided', label: 'Decided' },
  { value: 'closed', label: 'Closed' },
];

const AGES: readonly { readonly value: number; readonly label: string }[] = [
  { value: 0, label: 'Any age' },
  { value: 2, label: 'Over 2 days' },
  { value: 7, label: 'Over a week' },
  { value: 30, label: 'Over a month' },
];

/** Finds cases by words, stage, what was found or is suspected, age, and who opened them. */
export function BoardFilters({
  asked: { search, stage, mine, verdict, suspect, olderDays, by },
  onAsk,
}: {
  asked: BoardQuestion;
  onAsk: (changes: Partial<BoardQuestion>) => void;
}) {
  return (
    <form role="search" className="mb-4 flex flex-wrap items-center gap-3" onSubmit={(event) => event.preventDefault()}>
      <label className="relative min-w-60 grow">
        <span className="sr-only">Find a case</span>
        <Search aria-hidden className="pointer-events-none absolute top-3 left-3 size-5 text-soft" />
        <input
          type="search"
          className="input pl-10"
          placeholder="Vehicle, plate, complaint, number"
          maxLength={100}
          value={search}
          onChange={(event) => onAsk({ search: event.target.value })}
        />
      </label>
      <Choice
        label="Stage"
        value={stage}
        options={STAGES.map(({ value, label }) => [value, label])}
        onChoose={(value) => onAsk({ stage: value as BoardQuestion['stage'] })}
      />
      <Choice
        label="What was found"
        value={verdict}
        options={[
          ['', 'Whatever was found'],
          ...(Object.keys(VERDICTS) as Verdict[]).map((value) => [value, VERDICT_NAMES[value]] as const),
        ]}
        onChoose={(value) => onAsk({ verdict: value as Verdict | '' })}
      />
      <Choice
        label="Leading suspect"
        value={suspect}
        options={[
          ['', 'Whatever is suspected'],
          ...FAMILIES.map((value) => [value, `Suspect: ${FAMILY_NAMES[value]}`] as const),
        ]}
        onChoose={(value) => onAsk({ suspect: value as Family | '' })}
      />
      <Choice
        label="Age"
        value={olderDays}
        options={AGES.map(({ value, label }) => [value, label])}
        onChoose={(value) => onAsk({ olderDays: Number(value) })}
      />
      <People by={by} onAsk={onAsk} />
      <label className="flex min-h-11 items-center gap-2 px-1">
        <input
          type="checkbox"
          className="size-5 accent-(--steel)"
          checked={mine}
          onChange={(event) => onAsk({ mine: event.target.checked })}
        />
        Opened by me
      </label>
    </form>
  );
}

/** Whose cases: for a lead, who sees the shop's people. */
function People({ by, onAsk }: { by: string; onAsk: (changes: Partial<BoardQuestion>) => void }) {
  const may = useMay();
  const { data: people } = usePeopleQuery(undefined, { skip: !may('manage') });
  if (!people) return null;
  return (
    <Choice
      label="Opened by"
      value={by}
      options={[['', 'Opened by anybody'], ...people.map(({ id, name }) => [id, name] as const)]}
      onChoose={(value) => onAsk({ by: value })}
    />
  );
}

/** One thing to choose cases by; its first option leaves them all. */
function Choice({
  label,
  value,
  options,
  onChoose,
}: {
  label: string;
  value: string | number;
  options: readonly (readonly [value: string | number, label: string])[];
  onChoose: (value: string) => void;
}) {
  return (
    <select
      aria-label={label}
      className="input w-auto max-w-48"
      value={value}
      onChange={(event) => onChoose(event.target.value)}
    >
      {options.map(([option, name]) => (
        <option key={option} value={option}>
          {name}
        </option>
      ))}
    </select>
  );
}
