import { MATH_KINDS, type MathKind } from '@jarro/core';
import { useRef, useState, type FormEvent } from 'react';
import type { CaptureItem } from '@jarro/api-types';
import { errorText, useAddMathMutation, useRemoveMathMutation } from '../../app/api';
import { fitsOver, type LaneOrder, type TraceSignal } from '../../charts/signals';
import { Button } from '../../ui/button';
import { Choice, type Option } from '../../ui/choice';
import { DataTable } from '../../ui/data-table';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { mathId } from './use-lanes';

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
          { title: 'Signal', cell: ({ name, unit }) => `${name}, ${unit}` },
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

const KIND_OPTIONS: readonly Option<MathKind>[] = MATH_KINDS.map((value) => ({
  value,
  label: { difference: 'A − B', product: 'A × B', ratio: 'A ÷ B', 'low-pass': 'A, smoothed' }[value],
}));

/** A channel made of others: volts across two pins, watts, ohms, or a current without its humps. */
function WorkOut({ caseId, capture }: { readonly caseId: string; readonly capture: CaptureItem }) {
  const { id: captureId, channels } = capture;
  const several = channels.length > 1;
  const [kind, setKind] = useState<MathKind>(several ? 'difference' : 'low-pass');
  const [of, setOf] = useState(0);
  const [second, setSecond] = useState(several ? 1 : 0);
  const [cutoff, setCutoff] = useState('100');
  const [addMath, { error, isLoading }] = useAddMathMutation();
  const running = useRef<ReturnType<typeof addMath>>(undefined);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const math = kind === 'low-pass' ? { kind, of, cutoffHz: Number(cutoff) } : { kind, of, with: second };
    running.current = addMath({ caseId, captureId, math });
  };
  const channel = (label: string, value: number, onChange: (index: number) => void) => (
    <label className="block min-w-44 flex-1">
      <span className="label">{label}</span>
      <select className="input mt-1" value={value} onChange={(event) => onChange(Number(event.target.value))}>
        {channels.map(({ name, unit }, index) => (
          <option key={name} value={index}>
            {name}, {unit}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <form aria-label="Work a channel out" className="space-y-3 border-t border-line pt-4" onSubmit={submit}>
      <h3 className="text-xl">Work a channel out</h3>
      <Choice
        label="What to work out"
        hideLabel
        options={several ? KIND_OPTIONS : KIND_OPTIONS.filter(({ value }) => value === 'low-pass')}
        value={kind}
        onChange={setKind}
      />
      <div className="flex flex-wrap items-end gap-3">
        {channel('A', of, setOf)}
        {kind === 'low-pass' ? (
          <label className="block w-44">
            <span className="label">Holds back what is above, Hz</span>
            <input
              className="input mt-1"
              inputMode="decimal"
              required
              pattern="[0-9]+([.][0-9]+)?"
              title="A number of hertz, as 100 or 2.5"
              value={cutoff}
              onChange={(event) => setCutoff(event.target.value)}
            />
          </label>
        ) : (
          channel('B', second, setSecond)
        )}
        {isLoading ? (
          <Button onClick={() => running.current?.abort()}>Stop</Button>
        ) : (
          <Button type="submit" look="ink">
            Work it out
          </Button>
        )}
      </div>
      <p className="label">
        {kind === 'low-pass'
          ? 'A mean around every sample: nothing is moved in time, and no edge overshoots.'
          : kind === 'ratio'
            ? 'Where B is less than a twentieth of its largest there is no value.'
            : 'Of a difference both are in the same unit; volts times amperes are watts.'}{' '}
        What is worked out is for looking at: it is no evidence, and changes none.
      </p>
      <ErrorNotice text={isAbort(error) ? undefined : errorText(error)} />
    </form>
  );
}

/** Stopped by hand: nothing went wrong. */
function isAbort(error: unknown): boolean {
  return typeof error === 'object' && error !== null && 'name' in error && error.name === 'AbortError';
}
