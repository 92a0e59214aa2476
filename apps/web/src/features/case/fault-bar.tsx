import { Choice } from '../../ui/choice';
import { useFaultShows } from './fault-slice';

const SHOWS = [
  { value: 'shows', label: 'Yes, it shows now' },
  { value: 'away', label: 'No, it is gone for now' },
] as const;

/** Asked once for all that is entered with one press: a reading taken while the fault is away proves little. */
export function FaultBar({ caseId }: { caseId: string }) {
  const [shows, say] = useFaultShows(caseId);
  return (
    <div
      className={`flex flex-wrap items-center gap-x-3 gap-y-1 rounded-2xl ${shows ? '' : 'border-2 border-ochre p-2 pl-3'}`}
    >
      <span className="font-semibold">Does the fault show at this moment?</span>
      <Choice
        label="Does the fault show at this moment?"
        hideLabel
        options={SHOWS}
        value={shows ? 'shows' : 'away'}
        onChange={(value) => say(value === 'shows')}
      />
      {!shows && (
        <span className="text-ochre">
          What you enter now is kept as taken without the fault, and proves little of it.
        </span>
      )}
    </div>
  );
}
