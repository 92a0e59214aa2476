import {
  cautionsFor,
  DUTY_LINE_NAMES,
  type EntryValue,
  KEY_STATES,
  type Reference,
  REFERENCE_NAMES,
  REFERENCES,
  type Station,
} from '@jarro/core';
import { useEffect, useMemo, useRef, useState, type FormEvent } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { readNumber } from '../../app/units';
import { BigNumber } from '../../ui/big-number';
import { Button } from '../../ui/button';
import { Choice, optionsOf } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { Docked, DockedKeep } from '../../ui/docked';
import { Acknowledge } from '../case/acknowledge';
import { useTheBench } from '../case/bench';
import { openCautions } from '../case/cautions';
import { Photos, photosOf } from '../notes/photos';
import { useHabits } from './habits';
import { howTaken, USUAL_WAY } from './how';
import { HowFields } from './how-fields';
import { KeyField, PresenceField } from './moment';
import { ruledOut, type KeptEntry } from './ruled-out';
import { useMoment } from './use-moment';
import {
  answersTo,
  DEAD_KINDS,
  keyOf,
  kindsAt,
  placesBeside,
  stationOrPlace,
  unitOf,
  wordOf,
  type DutyLine,
  type StationReading,
} from './station-kinds';

/** Ohms are taken across a part, or from its feed to ground. */
const ACROSS = { across: 'Across it', ground: 'From here to ground' } as const;

/** A reading at a station, in seconds: type the number, Enter, and the next station comes up by itself. */
export function StationSheet({
  reading,
  onReading,
  onClose,
}: {
  reading: StationReading;
  onReading: (reading: StationReading) => void;
  onClose: () => void;
}) {
  const bench = useTheBench();
  const { item, profile } = bench;
  const [kept, setKept] = useState<KeptEntry>();
  const { evidence, rules } = bench;
  const news = useMemo(() => kept && ruledOut({ evidence, rules }, kept), [evidence, rules, kept]);
  const station = stationOrPlace(profile.stations, reading.station);
  if (!station) return null;
  const details = [station.pin && `pin ${station.pin}`, station.colour, station.location].filter(Boolean).join(' · ');
  const next = nextStation(profile.stations, station.id);
  const beside = placesBeside(station);
  const ahead = openCautions(item, 'power-path');
  if (ahead.length > 0) {
    return (
      <Docked title={station.name} onClose={onClose}>
        <Acknowledge caseId={item.id} cautions={ahead} />
      </Docked>
    );
  }
  return (
    <Docked title={station.name} {...(details && { hint: details })} onClose={onClose}>
      <div className="space-y-3">
        {news && (
          <p role="status" className="rounded-xl bg-paper px-3 py-2 text-lg font-semibold">
            {news}
          </p>
        )}
        <Choice
          label="What is read"
          hideLabel
          options={kindsAt(station).map((value) => ({ value, label: keyOf(value) }))}
          value={reading.kind}
          onChange={(kind) => onReading({ station: station.id, kind })}
        />
        <ReadingForm
          key={`${station.id}/${reading.kind}`}
          caseId={item.id}
          station={station}
          reading={reading}
          skip={next === undefined ? 'Done' : 'Skip to the next station'}
          onSkip={() => (next === undefined ? onClose() : onReading({ station: next, kind: 'voltage' }))}
          onKept={(entry) => {
            setKept(entry.kind === 'voltage' ? entry : undefined);
            if (entry.kind === 'voltage' && next) onReading({ station: next, kind: 'voltage' });
            else onClose();
          }}
        />
        {beside.length > 0 && (
          <div className="flex flex-wrap items-center gap-2">
            <span className="label">Read here too:</span>
            {beside.map(({ id, name }) => (
              <Button key={id} onClick={() => onReading({ station: id, kind: kindsAt({ ...station, id })[0] })}>
                {name}
              </Button>
            ))}
          </div>
        )}
        <details className="rounded-xl border border-line px-3 py-2">
          <summary className="flex min-h-9 cursor-pointer items-center font-semibold">
            Photos of {station.name} ({photosOf(item, { station: station.id }).length})
          </summary>
          <Photos item={item} stage="power-path" about={{ station: station.id }} />
        </details>
      </div>
    </Docked>
  );
}

/** Wires and splices have no pin to hold a probe to; the walk goes past them. From beside the path it goes nowhere. */
function nextStation(stations: readonly Station[], id: string): string | undefined {
  const at = stations.findIndex((station) => station.id === id);
  return at < 0 ? undefined : stations.slice(at + 1).find(({ kind }) => kind !== 'wire' && kind !== 'splice')?.id;
}

function ReadingForm({
  caseId,
  station,
  reading: { kind, state, reference: given, line: asked },
  skip,
  onSkip,
  onKept,
}: {
  caseId: string;
  station: Station;
  reading: StationReading;
  /** What Enter on an empty field does, in words. */
  skip: string;
  onSkip: () => void;
  onKept: (entry: KeptEntry) => void;
}) {
  const { profile } = useTheBench();
  const [habits, remember] = useHabits();
  const [text, setText] = useState('');
  const first = state ?? (DEAD_KINDS.has(kind) ? 'off' : habits.state);
  const [moment, setMoment] = useMoment(caseId, first);
  const { keyState } = moment;
  const [reference, setReference] = useState<Reference>(given ?? habits.reference);
  const [how, setHow] = useState(USUAL_WAY);
  const [line, setLine] = useState<DutyLine>(asked ?? 'output');
  const [across, setAcross] = useState<keyof typeof ACROSS>(given && kind === 'resistance' ? 'ground' : 'across');
  const [problem, setProblem] = useState<string>();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const gone = useRef(false);
  useEffect(
    () => () => {
      gone.current = true;
    },
    [],
  );
  const at = kind === 'duty' ? line : station.id;
  const unit = unitOf(kind, at);
  const referenced = kind === 'voltage' || kind === 'test-light';
  const answers = answersTo(kind, at);
  const cautions = cautionsFor({ kind, at: station.id, keyState }, profile);

  const keep = async (value: EntryValue) => {
    setProblem(undefined);
    if (!DEAD_KINDS.has(kind)) remember({ state: keyState });
    if (kind === 'voltage') remember({ reference });
    const from = kind === 'resistance' && across === 'ground' ? 'chassis' : referenced ? reference : undefined;
    const entry = { kind, at, value, ...moment };
    const result = await addEntry({ caseId, ...entry, ...(from && { reference: from }), ...howTaken(how) });
    // Whoever closed the sheet meanwhile doesn't want the next one.
    if ('error' in result || gone.current) return;
    onKept({ ...entry, reference, unloaded: how.connector === 'open', trust: how.trust });
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!text.trim()) return onSkip();
    const value = readNumber(text);
    if (value === undefined) return setProblem(`“${text}” is not a number. Type the reading in ${unit}.`);
    void keep(value);
  };

  return (
    <form onSubmit={submit} className="space-y-2.5">
      {cautions.length > 0 && (
        <ul className="space-y-0.5 rounded-2xl border-2 border-ochre p-3 text-[0.93rem] font-semibold">
          {cautions.map((caution) => (
            <li key={caution}>{caution}</li>
          ))}
          <li className="label font-normal">Local codes and a qualified person’s judgement come first.</li>
        </ul>
      )}
      <div className={unit ? 'flex flex-wrap items-center gap-x-5 gap-y-2' : ''}>
        {unit && (
          <div className="min-w-64 flex-1">
            <BigNumber label={station.name} unit={unit} value={text} onChange={setText} />
          </div>
        )}
        <div className={unit ? 'flex flex-wrap items-center gap-2' : 'grid grid-cols-2 gap-3'}>
          {unit && answers.length > 0 && <span className="label">or</span>}
          {answers.map((answer) => (
            <Button
              key={answer}
              look={unit ? 'plain' : 'ink'}
              className={unit ? 'capitalize' : 'min-h-16 text-xl capitalize'}
              onClick={() => void keep(answer)}
              disabled={isLoading}
            >
              {wordOf(answer)}
            </Button>
          ))}
        </div>
      </div>
      {referenced && (
        <Choice
          label={kind === 'test-light' ? 'Lamp’s other end' : 'Black lead at'}
          beside
          options={REFERENCES.map((value) => ({ value, label: REFERENCE_NAMES[value] }))}
          value={reference}
          onChange={setReference}
        />
      )}
      {kind === 'resistance' && (
        <Choice label="Leads" beside options={optionsOf(ACROSS)} value={across} onChange={setAcross} />
      )}
      {kind === 'duty' && (
        <Choice label="Duty" beside options={optionsOf(DUTY_LINE_NAMES)} value={line} onChange={setLine} />
      )}
      <KeyField states={KEY_STATES} moment={moment} beside onChange={setMoment} />
      {!unit && <PresenceField moment={moment} beside onChange={setMoment} />}
      <HowFields how={how} onChange={setHow} driven={profile.stations.some((one) => one.kind === 'module')} />
      <ErrorNotice text={problem ?? errorText(error)} />
      <p className="label">
        Back-probe, don’t pierce{station.backProbe ? '' : ' (this one offers no way to back-probe)'}. No open flame or
        sparks near fuel vapour; keep clear of moving and hot parts. A slipped probe can short battery power.
      </p>
      {unit && (
        <DockedKeep>
          <PresenceField moment={moment} hideLabel onChange={setMoment} />
          <Button type="submit" look="rust" className="min-w-56 flex-1 text-lg" disabled={isLoading}>
            {text.trim() ? 'Keep this reading' : skip}
          </Button>
        </DockedKeep>
      )}
    </form>
  );
}
