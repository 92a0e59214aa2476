import { type Intake, type KeyState, type PressureWindow, KEY_STATE_NAMES, pressureText, shownAs } from '@jarro/core';
import { useState } from 'react';
import { readNumber, usePressureUnit } from '../../app/units';

const STATES: readonly KeyState[] = ['prime', 'cranking', 'idle', 'loaded'];

type Windows = Intake['makersWindows'];

/** The maker's own pressure windows; they come before any rule of thumb. */
export function MakersWindows({
  windows,
  onChange,
  onUnfinished,
}: {
  windows: Windows;
  onChange: (windows: Windows) => void;
  /** What is wrong with a state's window as it is typed, or nothing any more. */
  onUnfinished: (state: KeyState, problem: string | undefined) => void;
}) {
  const unit = usePressureUnit();
  return (
    <details open={Object.keys(windows).length > 0} className="rounded-2xl border border-line px-4">
      <summary className="min-h-11 cursor-pointer py-3 font-semibold">
        Maker’s pressure windows, if you have them
      </summary>
      <div className="grid gap-2 pb-4 md:grid-cols-2">
        {STATES.map((state) => (
          <WindowFields
            key={state}
            name={KEY_STATE_NAMES[state]}
            unit={unit}
            window={windows[state]}
            toSi={shownAs('Pa', 'rail', unit).toSi}
            text={(pascal) => pressureText(pascal, unit)}
            onChange={(window, problem) => {
              onChange(withWindow(windows, state, window));
              onUnfinished(state, problem);
            }}
          />
        ))}
      </div>
    </details>
  );
}

function withWindow(windows: Windows, state: KeyState, window: PressureWindow | undefined): Windows {
  const others = Object.fromEntries(Object.entries(windows).filter(([key]) => key !== state));
  return window ? { ...others, [state]: window } : others;
}

function WindowFields({
  name,
  unit,
  window,
  toSi,
  text,
  onChange,
}: {
  name: string;
  unit: string;
  window: PressureWindow | undefined;
  toSi: (value: number) => number;
  text: (pascal: number) => string;
  onChange: (window: PressureWindow | undefined, problem: string | undefined) => void;
}) {
  const [low, setLow] = useState(window ? text(window.minPa) : '');
  const [high, setHigh] = useState(window ? text(window.maxPa) : '');
  const tell = (lowText: string, highText: string) => {
    const min = readNumber(lowText);
    const max = readNumber(highText);
    const whole = min !== undefined && max !== undefined;
    const empty = !lowText.trim() && !highText.trim();
    const wrong =
      whole || empty ? undefined : `${name}: give its lowest and highest as numbers in ${unit}, or empty both.`;
    onChange(whole ? { minPa: toSi(min), maxPa: toSi(max) } : undefined, wrong);
  };
  return (
    <div className="flex items-center gap-2">
      <span className="w-20">{name}</span>
      <input
        aria-label={`${name}, lowest in ${unit}`}
        className="input w-24"
        inputMode="decimal"
        value={low}
        onChange={(event) => {
          setLow(event.target.value);
          tell(event.target.value, high);
        }}
      />
      to
      <input
        aria-label={`${name}, highest in ${unit}`}
        className="input w-24"
        inputMode="decimal"
        value={high}
        onChange={(event) => {
          setHigh(event.target.value);
          tell(low, event.target.value);
        }}
      />
      {unit}
    </div>
  );
}
