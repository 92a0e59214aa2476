import type { CaptureItem } from '@jarro/api-types';
import { errorText, useRemoveMathMutation } from '../../app/api';
import { fitsOver, isNamed, type LaneOrder, type TraceSignal } from '../../charts/signals';
import { Button } from '../../ui/button';
import { DataTable } from '../../ui/data-table';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { mathId } from './use-lanes';
import { WorkOut } from './work-out';

/** A record whose current can be laid over this one's. */
export interface BesideOption {
  readonly id: string;
  readonly name: string;
}

/** Which signals share a lane, which aren't shown, what is worked out of them, and what is laid over them. */
export function LanesSheet({
  caseId,
  capture,
  signals,
  order,
  onOrder,
  besides,
  beside,
  onBeside,
  mayMeasure,
  onClose,
}: {
  readonly caseId: string;
  readonly capture: CaptureItem;
  readonly signals: readonly TraceSignal[];
  readonly order: LaneOrder;
  readonly onOrder: (order: LaneOrder) => void;
  readonly besides: readonly BesideOption[];
  readonly beside: string | undefined;
  readonly onBeside: (id: string | undefined) => void;
  readonly mayMeasure: boolean;
  readonly onClose: () => void;
}) {
  return (
    <Sheet title="Lanes" hint="What is drawn, and what shares a lane." open wide onClose={onClose}>
      <div className="space-y-5">
        <Places caseId={caseId} capture={capture} signals={signals} order={order} onOrder={onOrder} />
        {besides.length > 0 && (
          <label className="block">
            <span className="label">Lay another record’s pump current over this one’s</span>
            <select
              className="input mt-1"
              value={beside ?? ''}
              onChange={(event) => onBeside(event.target.value || undefined)}
            >
              <option value="">none</option>
              {besides.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
            <span className="label">Both switch on at the same moment where both show their start.</span>
          </label>
        )}
        {mayMeasure && <WorkOut caseId={caseId} capture={capture} />}
      </div>
    </Sheet>
  );
}

const OWN = 'own';
const HIDDEN = 'hidden';

function Places({
  caseId,
  capture,
  signals,
  order,
  onOrder,
}: {
  readonly caseId: string;
  readonly capture: CaptureItem;
  readonly signals: readonly TraceSignal[];
  readonly order: LaneOrder;
  readonly onOrder: (order: LaneOrder) => void;
}) {
  const [removeMath, { error }] = useRemoveMathMutation();
  const place = ({ id }: TraceSignal) => (order.hidden.includes(id) ? HIDDEN : (order.over[id] ?? OWN));
  const put = (id: string, to: string) => {
    const { [id]: _, ...over } = order.over;
    const hidden = order.hidden.filter((one) => one !== id);
    if (to === HIDDEN) onOrder({ over, hidden: [...hidden, id] });
    else onOrder({ over: to === OWN ? over : { ...over, [id]: to }, hidden });
  };
  /** Lanes of another signal that this one's scale fits. */
  const lanesFor = (signal: TraceSignal) =>
    signals.filter(
      (lead) =>
        lead.id !== signal.id &&
        !(lead.id in order.over) &&
        !Object.values(order.over).includes(signal.id) &&
        fitsOver(signal, [lead, ...signals.filter(({ id }) => order.over[id] === lead.id && id !== signal.id)]),
    );
  const mathOf = ({ id }: TraceSignal) => capture.math.find(({ channel }) => mathId(channel) === id);
  return (
    <>
      <DataTable
        rows={signals}
        keyOf={({ id }) => id}
        columns={[
          { title: 'Signal', cell: ({ name, unit }) => (isNamed(unit) ? `${name}, ${unit}` : name) },
          {
            title: 'Drawn',
            cell: (signal) => (
              <select
                aria-label={`Where ${signal.name} is drawn`}
                className="input w-auto max-w-72"
                value={place(signal)}
                onChange={(event) => put(signal.id, event.target.value)}
              >
                <option value={OWN}>in a lane of its own</option>
                {lanesFor(signal).map(({ id, name }) => (
                  <option key={id} value={id}>
                    over {name}
                  </option>
                ))}
                <option value={HIDDEN}>not at all</option>
              </select>
            ),
          },
          {
            title: '',
            cell: (signal) => {
              const math = mathOf(signal);
              return (
                math && (
                  <Button
                    look="bare"
                    aria-label={`Take ${signal.name} away`}
                    onClick={() => {
                      put(signal.id, OWN);
                      void removeMath({ caseId, captureId: capture.id, channel: math.channel });
                    }}
                  >
                    Take away
                  </Button>
                )
              );
            },
          },
        ]}
      />
      <ErrorNotice text={errorText(error)} />
    </>
  );
}
