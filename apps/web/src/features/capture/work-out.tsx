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

/** A channel made of others: volts across two pins, watts, ohms, or a current without its humps. */
export function WorkOut({ caseId, capture }: { readonly caseId: string; readonly capture: CaptureItem }) {
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
