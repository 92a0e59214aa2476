import { MATH_KINDS, type MathKind } from '@jarro/core';
import { useRef, useState, type FormEvent } from 'react';
import type { CaptureItem } from '@jarro/api-types';
import { errorText, useAddMathMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { Choice, type Option } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';

const KIND_OPTIONS: readonly Option<MathKind>[] = MATH_KINDS.map((value) => ({
  value,
  label: { difference: 'A − B', product: 'A × B', ratio: 'A ÷ B', 'low-pass': 'A, smoothed' }[value],
}));

const SAYS: Readonly<Record<MathKind, string>> = {
  difference: 'Volts at two places: what is lost between them.',
  product: 'Volts times amperes are watts.',
  ratio: 'Where B is less than a twentieth of its largest there is no value.',
  'low-pass': 'A mean around every sample: nothing is moved in time, and no edge overshoots.',
};

/** A channel made of others: volts across two pins, watts, ohms, or a current without its humps. */
export function WorkOut({ caseId, capture }: { readonly caseId: string; readonly capture: CaptureItem }) {
  const { id: captureId, channels } = capture;
  const several = channels.length > 1;
  const [kind, setKind] = useState<MathKind>(several ? 'product' : 'low-pass');
  const [of, setOf] = useState(0);
  const [chosen, setChosen] = useState(1);
  const all = channels.map((_, index) => index);
  // Only alike units can be subtracted.
  const others = all.filter((i) => i !== of && (kind !== 'difference' || channels[i].unit === channels[of].unit));
  const second = others.includes(chosen) ? chosen : others[0];
  const lacksOther = kind !== 'low-pass' && second === undefined;
  const [cutoff, setCutoff] = useState('100');
  const [addMath, { error, isLoading }] = useAddMathMutation();
  const running = useRef<ReturnType<typeof addMath>>(undefined);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const math = { kind, of, ...(kind === 'low-pass' ? { cutoffHz: Number(cutoff) } : { with: second }) };
    running.current = addMath({ caseId, captureId, math });
  };
  const channel = (label: string, offered: readonly number[], value: number, onChange: (index: number) => void) => (
    <label className="block min-w-44 flex-1">
      <span className="label">{label}</span>
      <select className="input mt-1" value={value} onChange={(event) => onChange(Number(event.target.value))}>
        {offered.map((index) => (
          <option key={index} value={index}>
            {channels[index].name}, {channels[index].unit}
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
        {channel('A', all, of, setOf)}
        {kind === 'low-pass' ? (
          <label className="block w-44">
            <span className="label">Filters out what is above, Hz</span>
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
          !lacksOther && channel('B', others, second, setChosen)
        )}
        {isLoading ? (
          <Button onClick={() => running.current?.abort()}>Stop</Button>
        ) : (
          <Button type="submit" look="ink" disabled={lacksOther}>
            Work it out
          </Button>
        )}
      </div>
      <p className="label">
        {lacksOther ? 'No other channel is in the unit of A.' : SAYS[kind]} What is worked out is for looking at: it is
        no evidence, and changes none.
      </p>
      <ErrorNotice text={isAbort(error) ? undefined : errorText(error)} />
    </form>
  );
}

/** Stopped by hand: nothing went wrong. */
function isAbort(error: unknown): boolean {
  return typeof error === 'object' && error !== null && 'name' in error && error.name === 'AbortError';
}
