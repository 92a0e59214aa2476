import { Search } from 'lucide-react';
import type { BoardQuestion } from '../../app/api';

const STAGES: readonly { readonly value: BoardQuestion['stage']; readonly label: string }[] = [
  { value: '', label: 'All cases' },
  { value: 'open', label: 'Open' },
  { value: 'decided', label: 'Decided' },
  { value: 'closed', label: 'Closed' },
];

/** Finds cases by words, by stage, and by who opened them. */
export function BoardFilters({
  asked: { search, stage, mine },
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
