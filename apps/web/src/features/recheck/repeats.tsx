import { NOT_POSSIBLE, testName, type Recheck, type Repeat, type RepeatResult } from '@jarro/core';
import { Check, CircleSlash2, Minus, TriangleAlert } from 'lucide-react';
import { useNavigate } from 'react-router';
import { errorText, useAddEntryMutation } from '../../app/api';
import { usePressureUnit } from '../../app/units';
import type { CaseDetail, EvidenceItem, NewEntry, PressureUnitName } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useTheBench } from '../case/bench';
import { captureText } from '../capture/capture-text';
import { describeLink } from '../evidence/describe-link';
import type { StationReading } from '../path/station-kinds';
import { placeOfTest } from '../scale/place-of-test';
import { questionOf } from './question-of';

const RESULTS: Readonly<Record<RepeatResult, { mark: typeof Check; word: string; tone: string }>> = {
  passes: { mark: Check, word: 'passes', tone: 'text-mineral' },
  fails: { mark: TriangleAlert, word: 'still fails', tone: 'text-rust' },
  unclear: { mark: Minus, word: 'not clear', tone: 'text-ochre' },
  'not-possible': { mark: CircleSlash2, word: 'can’t be repeated', tone: 'text-soft' },
  open: { mark: Minus, word: 'to be repeated', tone: 'text-soft' },
};

/** The tests that showed the fault, by name, each beside the same test after the repair. */
export function Repeats({
  item,
  recheck: { repeats },
  editable,
  onReading,
}: {
  item: CaseDetail;
  recheck: Recheck;
  editable: boolean;
  onReading: (reading: StationReading) => void;
}) {
  if (repeats.length === 0) {
    return (
      <p>
        No single test showed the fault. Take pressure and pump current once more, so that the record ends with both.
      </p>
    );
  }
  return (
    <section aria-label="The failing tests again">
      <h3 className="text-xl">The failing tests again</h3>
      <ul>
        {repeats.map((repeat) => (
          <Row key={repeat.before} item={item} repeat={repeat} editable={editable} onReading={onReading} />
        ))}
      </ul>
    </section>
  );
}

function Row({
  item,
  repeat: { before, after, result },
  editable,
  onReading,
}: {
  item: CaseDetail;
  repeat: Repeat;
  editable: boolean;
  onReading: (reading: StationReading) => void;
}) {
  const { profile } = useTheBench();
  const unit = usePressureUnit();
  const navigate = useNavigate();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const { mark: Mark, word, tone } = RESULTS[result];
  const was = item.evidence.find(({ id }) => id === before);
  const is = item.evidence.find(({ id }) => id === after);
  if (!was) return null;
  const name = testName(before, item.evidence);
  const take = () => {
    const place = placeOfTest(questionOf(was), profile.stations.find(({ kind }) => kind === 'module')?.id);
    if ('stage' in place) void navigate(`/cases/${item.id}/${place.stage}`);
    else onReading(place);
  };
  return (
    <li
      aria-label={name}
      className="grid items-center gap-x-3 gap-y-1 border-b border-line py-2 sm:grid-cols-[1fr_auto]"
    >
      <div>
        <p className="label">{name}</p>
        <p className="flex flex-wrap items-baseline gap-x-3">
          <span className="text-soft">{foundText(was, item, unit)}</span>
          <span aria-hidden>→</span>
          <span className="text-xl font-bold">{is ? foundText(is, item, unit) : '?'}</span>
          <span className={`flex items-center gap-1 font-semibold ${tone}`}>
            <Mark aria-hidden className="size-4" /> {word}
          </span>
        </p>
        <ErrorNotice text={errorText(error)} />
      </div>
      {editable && (
        <div className="flex flex-wrap gap-1.5">
          <Button look={result === 'open' ? 'rust' : 'plain'} aria-label={`Take again: ${name}`} onClick={take}>
            Take again
          </Button>
          {(result === 'open' || result === 'unclear') && (
            <Button
              look="bare"
              disabled={isLoading}
              aria-label={`Can’t be repeated: ${name}`}
              onClick={() => void addEntry({ caseId: item.id, ...notPossible(was) })}
            >
              Can’t be repeated
            </Button>
          )}
        </div>
      )}
    </li>
  );
}

function foundText(link: EvidenceItem, item: CaseDetail, unit: PressureUnitName): string {
  return link.kind === 'capture' ? captureText(item, link.id) : describeLink(link, item, unit).text;
}

/** A capture is no entry: who can't take one again says so of its pattern. */
function notPossible({ kind, at, keyState, how }: EvidenceItem): Omit<NewEntry, 'caseId' | 'id' | 'secondsAgo'> {
  const entryKind = kind === 'capture' ? 'pattern' : (kind as NewEntry['kind']);
  return { kind: entryKind, at, value: NOT_POSSIBLE, keyState: keyState ?? 'prime', faultPresent: false, ...how };
}
