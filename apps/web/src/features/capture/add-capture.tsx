import { driveTables, KEY_STATES, type Analysis, type ChannelSetup } from '@jarro/core';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { baseApi } from '../../app/api';
import { progressText, sendFile, type SendProgress } from '../../app/send-file';
import type { TraceLane, TraceSignal } from '../../charts/signals';
import { Trace } from '../../charts/trace';
import type { TraceSource } from '../../charts/trace-window';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet, SheetKeep } from '../../ui/sheet';
import type { Answer, OpenedFile } from '../../workers/capture-desk';
import { openDesk, TOO_MUCH, type Desk } from '../../workers/open-desk';
import { useTheBench } from '../case/bench';
import { MomentFields } from '../path/moment';
import { useMoment } from '../path/use-moment';
import { setupOf, shownBy, type ChannelForm } from './channel-setup';
import { ChannelTable } from './channel-table';
import { Findings, ToActOn } from './findings';
import { Incidents } from './incidents';
import { Injections } from './injections';
import { Numbers } from './numbers';
import { PressureNumbers } from './pressure-numbers';
import { Runs } from './runs';
import { SwitchedLines } from './switched-lines';
import { inLaneOrder } from './use-lanes';

type Preview = Omit<Analysis, 'turnA'>;

/** The disk may refuse, or the scope's program may still be writing. */
const UNREADABLE =
  'This file can’t be read just now: it changed or vanished while it was being read. Wait until it is written, then choose it again.';

/** A dropped file before it is kept: read and measured here, channels confirmed, then sent as it is. */
export function AddCapture({ caseId, file, onClose }: { caseId: string; file: File; onClose: () => void }) {
  const [rate, setRate] = useState('');
  const [askRate, setAskRate] = useState(false);
  const [opened, setOpened] = useState<OpenedFile>();
  const [problem, setProblem] = useState<string>();
  // What no worker can measure is kept unmeasured: the server reads it.
  const [isTooMuch, setIsTooMuch] = useState(false);
  const [desk] = useState(() => openDesk(() => setIsTooMuch(true)));
  const [forms, setForms] = useState<readonly ChannelForm[]>([]);
  const [bars, setBars] = useState('');
  const [preview, setPreview] = useState<Preview>();
  const [measuredKey, setMeasuredKey] = useState<string>();
  const { profile } = useTheBench();
  const [moment, setMoment] = useMoment(caseId, 'prime');
  const [label, setLabel] = useState(file.name.replace(/\.\w+$/, ''));
  const [scaleIsRight, setScaleIsRight] = useState(false);
  const [progress, setProgress] = useState<SendProgress>();
  const stop = useRef(new AbortController());
  const dispatch = useDispatch();

  const take = useCallback((answer: Answer<OpenedFile>) => {
    if ('refused' in answer) {
      setProblem(answer.refused);
      setAskRate(answer.code === 'rate-unknown');
      return;
    }
    setProblem(undefined);
    setOpened(answer.ok);
    setScaleIsRight(false);
    setForms(answer.ok.channels.map(({ role }) => ({ role, tool: undefined, invert: false })));
  }, []);

  useEffect(() => {
    void desk.ask((remote) => remote.open(file, undefined)).then(take, () => setProblem(UNREADABLE));
    return () => desk.close();
  }, [desk, file, take]);

  const setups = opened ? setupsOf(opened, forms) : undefined;
  const setupKey = JSON.stringify([setups, bars]);
  useEffect(() => {
    let stale = false;
    if (!setups) return;
    void desk
      .ask((remote) => remote.measure(setups, barsOf(bars), driveTables(profile)))
      .then((answer) => {
        if (stale) return;
        setMeasuredKey(setupKey);
        setProblem('ok' in answer ? undefined : answer.refused);
        if (!('ok' in answer)) return;
        setIsTooMuch(false);
        setPreview(answer.ok);
      });
    return () => {
      stale = true;
    };
    // The key holds all that the measurement depends on.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [setupKey]);

  // An engine that injects runs.
  const injects = preview?.balance !== undefined;
  useEffect(() => {
    if (injects && moment.keyState === 'prime') setMoment({ ...moment, keyState: 'idle' });
    // What is chosen afterwards stays.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [injects]);

  // A wrong factor falsifies every number of the record, so it is asked about while it can still be put right; and what is measured
  // is put in above the button, which a press would miss as it moves.
  const isMeasured = measuredKey === setupKey || isTooMuch;
  const wrongScale = preview?.findings.find(({ code }) => code === 'scale-large');

  const keep = async () => {
    if (!setups) return;
    setProgress({ stage: 'sending', share: 0 });
    stop.current = new AbortController();
    const given = barsOf(bars);
    const query = {
      ...{ fileName: file.name, label, setups: JSON.stringify(setups) },
      ...{ keyState: moment.keyState, faultPresent: String(moment.faultPresent) },
      ...(given !== undefined && { bars: String(given) }),
      ...(rate && { rateHz: rate }),
    };
    const outcome = await sendFile(
      { url: `/api/cases/${caseId}/captures`, query, file },
      setProgress,
      stop.current.signal,
    );
    setProgress(undefined);
    if ('problem' in outcome) return setProblem(outcome.problem);
    if ('stopped' in outcome) return;
    dispatch(baseApi.util.invalidateTags([{ type: 'Case', id: caseId }, 'Board']));
    onClose();
  };

  return (
    <Sheet title="Add a capture" hint={`${file.name}, ${sizeText(file.size)}`} open onClose={onClose} wide>
      <div className="space-y-4">
        <ErrorNotice text={problem ?? (isTooMuch ? TOO_MUCH : undefined)} />
        {askRate && !opened && (
          <form
            className="flex items-end gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              void desk.ask((remote) => remote.open(file, Number(rate))).then(take, () => setProblem(UNREADABLE));
            }}
          >
            <label className="block">
              <span className="label">Samples a second</span>
              <input
                className="input mt-1"
                type="number"
                min={1}
                required
                value={rate}
                onChange={(event) => setRate(event.target.value)}
              />
            </label>
            <Button type="submit" look="ink">
              Read with this rate
            </Button>
          </form>
        )}
        {!opened && !problem && !isTooMuch && <p className="text-soft">Reading the file …</p>}
        {opened && (
          <>
            <ChannelTable opened={opened} forms={forms} questions={preview?.scaleQuestions ?? []} onChange={setForms} />
            {preview?.pulses && <SwitchedLines pulses={preview.pulses} drive={preview.drive} />}
            {preview?.sequence && <Incidents sequence={preview.sequence} source={preview.source} />}
            {preview?.ramp && <Numbers ramp={preview.ramp} />}
            {preview?.pressure && <PressureNumbers pressure={preview.pressure} />}
            {preview?.balance && <Injections balance={preview.balance} />}
            {preview && <ToActOn findings={preview.findings} />}
            <PreviewTrace desk={desk} opened={opened} forms={forms} />
            {preview?.ramp && <Runs ramp={preview.ramp} />}
            {preview && <Findings findings={preview.findings} cannotTell={preview.cannotTell} />}
            {wrongScale && (
              <label className="flex min-h-11 items-start gap-3 rounded-xl border border-rust p-3">
                <input
                  type="checkbox"
                  className="mt-0.5 size-6 shrink-0 accent-[var(--enamel)]"
                  checked={scaleIsRight}
                  onChange={(event) => setScaleIsRight(event.target.checked)}
                />
                <span>
                  <strong className="text-rust">{wrongScale.text}</strong> Choose the clamp in the table above. If the
                  scale is right all the same, say so here.
                </span>
              </label>
            )}
            <SheetKeep>
              <div className="mb-3 flex flex-wrap gap-x-6 gap-y-2">
                <MomentFields states={KEY_STATES} moment={moment} onChange={setMoment} />
              </div>
              <div className="grid gap-3 sm:grid-cols-[1fr_10rem_auto] sm:items-end">
                <label className="block">
                  <span className="label">What is it of?</span>
                  <input
                    className="input mt-1"
                    maxLength={120}
                    value={label}
                    onChange={(event) => setLabel(event.target.value)}
                  />
                </label>
                <label className="block">
                  <span className="label">Bars, if you know</span>
                  <input
                    className="input mt-1"
                    type="number"
                    min={3}
                    max={40}
                    value={bars}
                    onChange={(event) => setBars(event.target.value)}
                  />
                </label>
                {progress === undefined ? (
                  <Button
                    look="rust"
                    className="text-lg"
                    onClick={() => void keep()}
                    disabled={!isMeasured || !label.trim() || (wrongScale !== undefined && !scaleIsRight)}
                  >
                    {isMeasured ? 'Keep this capture' : 'Measuring …'}
                  </Button>
                ) : (
                  <Button onClick={() => stop.current.abort()}>{progressText(progress)} · stop</Button>
                )}
              </div>
            </SheetKeep>
          </>
        )}
      </div>
    </Sheet>
  );
}

function PreviewTrace({ desk, opened, forms }: { desk: Desk; opened: OpenedFile; forms: readonly ChannelForm[] }) {
  const { samples, sampleRateHz, channels } = opened;
  const recorded = useMemo(() => ({ samples, sampleRateHz, startS: 0 }), [samples, sampleRateHz]);
  const lanes = useMemo(
    (): TraceLane[] =>
      channels
        .map((channel, index) => ({ role: forms[index].role, signal: previewOf(desk, channel, index, forms[index]) }))
        .sort(inLaneOrder)
        .map(({ signal }) => [signal]),
    [desk, channels, forms],
  );
  return <Trace label="Preview, as it is kept" recorded={recorded} lanes={lanes} height={180} strip={false} />;
}

function previewOf(desk: Desk, channel: OpenedFile['channels'][number], index: number, form: ChannelForm): TraceSignal {
  const { unit, of } = shownBy(channel, form);
  const [atNought, atOne] = [of(0), of(1)];
  const source: TraceSource = async ({ from, to }, columns) => {
    const pairs = await desk.remote.window(index, from, to, columns);
    return pairs.map((value) => atNought + (atOne - atNought) * value);
  };
  return { id: channel.name, name: channel.name, unit, source };
}

function setupsOf(opened: OpenedFile, forms: readonly ChannelForm[]): Record<string, ChannelSetup> {
  return Object.fromEntries(opened.channels.map((channel, i) => [channel.name, setupOf(channel, forms[i])]));
}

function barsOf(text: string): number | undefined {
  const bars = Number(text);
  return Number.isInteger(bars) && bars >= 3 && bars <= 40 ? bars : undefined;
}

function sizeText(bytes: number): string {
  return bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;
}
