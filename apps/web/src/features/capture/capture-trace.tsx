import { markText } from '@jarro/core';
import { Layers } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { CaptureItem, CaseDetail } from '@jarro/api-types';
import { useKept } from '../../app/kept';
import { arrangeLanes, EACH_ITS_OWN, type LaneOrder } from '../../charts/signals';
import { Trace } from '../../charts/trace';
import { Button } from '../../ui/button';
import { useMayMeasure } from '../case/use-may-measure';
import { useMay } from '../session/use-may';
import { LanesSheet } from './lanes-sheet';
import { MarkSheet } from './mark-sheet';
import type { KeptMark } from './marks';
import { aroundMoment, eventsOf, viewsOf } from './spans';
import { useBeside } from './use-beside';
import { channelId, useSignals } from './use-lanes';

/** How somebody looks at a capture: kept on the device. */
interface Look extends LaneOrder {
  /** The record whose current lies over this one's. */
  readonly beside?: string;
}

/** A stored capture's signals on one time: its events, its marks, and what is laid over them. */
export function CaptureTrace({
  item,
  capture,
  marks,
  initial,
}: {
  readonly item: CaseDetail;
  readonly capture: CaptureItem;
  readonly marks: readonly KeptMark[];
  readonly initial: { readonly fromS: number; readonly toS: number } | undefined;
}) {
  const { id, samples, sampleRateHz, startS, analysis, channels } = capture;
  const [kept, keep] = useKept<Look>(`lanes/${id}`);
  const look = kept ?? EACH_ITS_OWN;
  const { beside } = kept ?? {};
  const [arranging, setArranging] = useState(false);
  const [markedS, setMarkedS] = useState<number>();
  const mayMeasure = useMayMeasure(item);
  const mayMark = useMay()('intake') && item.stage !== 'closed';

  const signals = useSignals(capture);
  const { options, signal: other } = useBeside(item, capture, beside);
  const lanes = useMemo(() => {
    const current = channels.findIndex(({ role }) => role === 'pump_current');
    const over = other && current >= 0 ? { ...look.over, [other.id]: channelId(current) } : look.over;
    return arrangeLanes(other ? [...signals, other] : signals, { over, hidden: look.hidden });
  }, [signals, other, look, channels]);

  const recorded = useMemo(() => ({ samples, sampleRateHz, startS }), [samples, sampleRateHz, startS]);
  const views = analysis ? viewsOf(analysis) : [];
  const drawn = useMemo(() => marks.map((mark) => ({ atS: mark.atS, name: markText(mark) })), [marks]);
  const events = useMemo(() => {
    const found = analysis ? eventsOf(analysis) : [];
    return [...found, ...drawn.map(({ atS, name }) => ({ name, atS, ...aroundMoment(atS) }))].sort(
      (a, b) => a.atS - b.atS,
    );
  }, [analysis, drawn]);
  return (
    <>
      <Trace
        label={`${lanes.flatMap((lane) => lane.map(({ name }) => name)).join(', ')} over time`}
        recorded={recorded}
        lanes={lanes}
        views={views}
        events={events}
        marks={drawn}
        {...(mayMark && { onMark: setMarkedS })}
        tools={
          <Button onClick={() => setArranging(true)}>
            <Layers aria-hidden className="size-5" /> Lanes
          </Button>
        }
        height={lanes.length > 1 ? 200 : 260}
        {...(initial && { initial })}
      />
      {arranging && (
        <LanesSheet
          caseId={item.id}
          capture={capture}
          signals={signals}
          order={look}
          onOrder={(order) => keep({ ...order, ...(beside !== undefined && { beside }) })}
          besides={options}
          beside={beside}
          onBeside={(chosen) =>
            keep({ over: look.over, hidden: look.hidden, ...(chosen !== undefined && { beside: chosen }) })
          }
          mayMeasure={mayMeasure}
          onClose={() => setArranging(false)}
        />
      )}
      {markedS !== undefined && (
        <MarkSheet caseId={item.id} captureId={id} atS={markedS} onClose={() => setMarkedS(undefined)} />
      )}
    </>
  );
}
