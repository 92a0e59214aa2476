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
      <select
        aria-label="Stage"
        className="input w-auto"
        value={stage}
        onChange={(event) => onAsk({ stage: event.target.value as BoardQuestion['stage'] })}
      >
        {STAGES.map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      <select
        aria-label="What was found"
        className="input w-auto max-w-48"
        value={verdict}
        onChange={(event) => onAsk({ verdict: event.target.value as Verdict | '' })}
      >
        <option value="">Whatever was found</option>
        {(Object.keys(VERDICTS) as Verdict[]).map((value) => (
          <option key={value} value={value}>
            {VERDICT_NAMES[value]}
          </option>
        ))}
      </select>
      <select
        aria-label="Leading suspect"
        className="input w-auto max-w-48"
        value={suspect}
        onChange={(event) => onAsk({ suspect: event.target.value as Family | '' })}
      >
        <option value="">Whatever is suspected</option>
        {FAMILIES.map((value) => (
          <option key={value} value={value}>
            Suspect: {FAMILY_NAMES[value]}
          </option>
        ))}
      </select>
      <select
        aria-label="Age"
        className="input w-auto"
        value={olderDays}
        onChange={(event) => onAsk({ olderDays: Number(event.target.value) })}
      >
        {AGES.map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
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
    <select
      aria-label="Opened by"
      className="input w-auto max-w-44"
      value={by}
      onChange={(event) => onAsk({ by: event.target.value })}
    >
      <option value="">Opened by anybody</option>
      {people.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
}
