import { Upload } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useMeQuery } from '../../app/api';
import type { CaptureItem, CaseDetail } from '@jarro/api-types';
import { when } from '../../app/words';
import { RotorMap } from '../../charts/rotor-map';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { mayBeVoided, standingCaptures } from '../case/evidence';
import { useMayMeasure } from '../case/use-may-measure';
import { VoidEntry } from '../case/void-entry';
import { KnownGoodPanel } from '../shelf/known-good-panel';
import { MeasureAgain } from './measure-again';
import { AddCapture } from './add-capture';
import { CaptureTrace } from './capture-trace';
import { Findings, ToActOn } from './findings';
import { Incidents } from './incidents';
import { Injections } from './injections';
import { LoadCloudView } from './load-cloud';
import { Marks, marksOf } from './marks';
import { Numbers } from './numbers';
import { PressureNumbers } from './pressure-numbers';
import { Runs } from './runs';
import { aroundIncident, aroundMoment, firstViewOf, type View } from './spans';
import { SwitchedLines } from './switched-lines';

/** The pump current: the newest capture measured, earlier ones a press away. */
export function CurrentPanel({ item }: { item: CaseDetail }) {
  const standing = standingCaptures(item);
  const [chosen, setChosen] = useState<string>();
  const [file, setFile] = useState<File>();
  const [problem, setProblem] = useState<string>();
  const { data: me } = useMeQuery();
  const take = (picked: File) => {
    const tooLarge = me !== undefined && picked.size > me.uploadLimitBytes;
    setProblem(tooLarge ? overLimit(picked, me.uploadLimitBytes) : undefined);
    if (!tooLarge) setFile(picked);
  };
  const capture = standing.find(({ id }) => id === chosen) ?? standing.at(-1);
  const open = item.stage === 'open';
  const mayAdd = useMayMeasure(item);
  return (
    <div className="space-y-3">
      <ErrorNotice text={problem} />
      {capture ? (
        <>
          <div className="flex flex-wrap items-center gap-2">
            <h2 className="mr-auto text-xl">
              {capture.label}
              <span className="label block font-sans font-normal">
                {when(capture.link.takenAt)}, {capture.link.takenBy}
              </span>
            </h2>
            {standing.length > 1 && (
              <select
                aria-label="Capture"
                className="input w-auto"
                value={capture.id}
                onChange={(event) => setChosen(event.target.value)}
              >
                {standing.map(({ id, label }) => (
                  <option key={id} value={id}>
                    {label}
                  </option>
                ))}
              </select>
            )}
            {open && <MeasureAgain key={`again ${capture.id}`} item={item} captureId={capture.id} />}
            {mayBeVoided(item, capture.link) && <VoidEntry caseId={item.id} id={capture.id} />}
            {mayAdd && <PickFile look="plain" onFile={take} />}
          </div>
          <CaptureView key={capture.id} item={item} capture={capture} />
          <KnownGoodPanel key={`good ${capture.id}`} item={item} capture={capture} />
        </>
      ) : (
        mayAdd && <DropZone onFile={take} />
      )}
      {!capture && !mayAdd && <p className="text-soft">No capture was taken in this case.</p>}
      {file && <AddCapture caseId={item.id} file={file} onClose={() => setFile(undefined)} />}
    </div>
  );
}

function overLimit({ name, size }: File, limitBytes: number): string {
  const mib = (bytes: number) => Math.floor(bytes / 1024 / 1024);
  return `${name} is ${mib(size)} MiB, over the limit of ${mib(limitBytes)} MiB. Export a shorter record or fewer channels.`;
}

function CaptureView({ item, capture }: { item: CaseDetail; capture: CaptureItem }) {
  const { id, analysis } = capture;
  const ramp = analysis?.ramp;
  const marks = useMemo(() => marksOf(item, id), [item, id]);
  const map = ramp?.bars && ramp.humps && { bars: ramp.bars, basis: ramp.humps.basis };
  const [shown, setShown] = useState<Shown | undefined>(analysis ? firstViewOf(analysis) : undefined);
  const show = (stretch: View) => setShown({ ...stretch, asked: (shown?.asked ?? 0) + 1 });
  return (
    <>
      {analysis?.pulses && <SwitchedLines pulses={analysis.pulses} drive={analysis.drive} />}
      {analysis?.sequence && (
        <Incidents
          sequence={analysis.sequence}
          source={analysis.source}
          marks={marks}
          onShow={(incident) => show(aroundIncident(incident))}
        />
      )}
      {analysis?.cloud && analysis.source && <LoadCloudView cloud={analysis.cloud} source={analysis.source} />}
      {ramp && <Numbers ramp={ramp} />}
      {analysis?.pressure && <PressureNumbers pressure={analysis.pressure} />}
      {analysis?.balance && <Injections balance={analysis.balance} />}
      {analysis && <ToActOn findings={analysis.findings} />}
      <div
        className={`grid grid-cols-[minmax(0,1fr)] items-center gap-3 ${map ? 'md:grid-cols-[minmax(0,1fr)_13rem]' : ''}`}
      >
        <CaptureTrace
          // Another stretch asked for from outside is another trace.
          key={shown?.asked}
          item={item}
          capture={capture}
          marks={marks}
          initial={shown}
        />
        {map && <RotorMap {...map} />}
      </div>
      <Marks item={item} marks={marks} onShow={({ atS }) => show(aroundMoment(atS))} />
      {ramp && <Runs ramp={ramp} />}
      {analysis && <Findings findings={analysis.findings} cannotTell={analysis.cannotTell} />}
    </>
  );
}

/** A stretch on screen, and how many were asked for before it. */
interface Shown extends View {
  readonly asked?: number;
}

function PickFile({ look, onFile }: { look: 'plain' | 'rust'; onFile: (file: File) => void }) {
  return (
    <>
      <input
        id="capture-file"
        type="file"
        aria-label="Capture file"
        tabIndex={-1}
        accept=".csv,.txt,.tsv,.wav,.mat,.json"
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = '';
        }}
      />
      <Button look={look} onClick={() => document.getElementById('capture-file')?.click()}>
        <Upload aria-hidden className="size-5" /> Add a capture
      </Button>
    </>
  );
}

function DropZone({ onFile }: { onFile: (file: File) => void }) {
  const [over, setOver] = useState(false);
  return (
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const file = event.dataTransfer.files[0];
        if (file) onFile(file);
      }}
      className={`grid min-h-80 place-items-center rounded-2xl border-2 border-dashed p-6 text-center ${over ? 'border-rust bg-paper' : 'border-line'}`}
    >
      <div className="max-w-md space-y-3">
        <h2 className="text-2xl">Drop the scope’s file here</h2>
        <p className="text-soft">
          CSV, WAV or MAT of the pump current, with whatever was recorded beside it. Zero the clamp, start the capture
          before key-on, let the whole prime run. The key must rest off ten seconds before the pump primes again.
        </p>
        <PickFile look="rust" onFile={onFile} />
      </div>
    </div>
  );
}
