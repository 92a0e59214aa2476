import { CONTROLS, KEY_STATE_NAMES, type KeyState, pressureText, REGULATORS, type SystemProfile } from '@jarro/core';
import type { Dispatch } from 'react';
import { usePressureUnit } from '../../app/units';
import { toPascal } from '@jarro/core';
import { DataTable } from '../../ui/data-table';
import { Labelled, NumberField } from './fields';
import type { Edit, ProblemOf } from './profile-state';
import { CONTROL_NAMES, REGULATOR_NAMES } from './station-words';
import { TableField } from './table-field';

const STATES: readonly KeyState[] = ['prime', 'cranking', 'idle', 'loaded'];

interface Props {
  readonly profile: SystemProfile;
  readonly problemOf: ProblemOf;
  readonly dispatch: Dispatch<Edit>;
}

/** What is expected of the whole: how it is switched, its pump at its rated point, its windows and tables. */
export function SystemFields(props: Props) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 md:grid-cols-2">
      <Switching {...props} />
      <Rating {...props} />
      <Windows {...props} />
      <Tables {...props} />
    </div>
  );
}

function Switching({ profile, problemOf, dispatch }: Props) {
  const set = (changes: Partial<SystemProfile>) => dispatch({ type: 'set', changes });
  return (
    <section aria-label="Switching" className="card space-y-3 p-4">
      <h2 className="text-lg">How it is switched</h2>
      <Labelled label="Control" problem={problemOf('control')}>
        <select
          className="input mt-1"
          value={profile.control}
          onChange={(event) => set({ control: event.target.value as SystemProfile['control'] })}
        >
          {CONTROLS.map((control) => (
            <option key={control} value={control}>
              {CONTROL_NAMES[control]}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label="What holds the pressure" problem={problemOf('regulator')}>
        <select
          className="input mt-1"
          value={profile.regulator ?? ''}
          onChange={(event) =>
            set({ regulator: (event.target.value || undefined) as NonNullable<SystemProfile['regulator']> })
          }
        >
          <option value="">Not known</option>
          {REGULATORS.map((regulator) => (
            <option key={regulator} value={regulator}>
              {REGULATOR_NAMES[regulator]}
            </option>
          ))}
        </select>
      </Labelled>
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="Prime"
          unit="s"
          value={profile.primeS}
          problem={problemOf('primeS')}
          onChange={(primeS) => set({ primeS: primeS ?? NaN })}
        />
        <label className="flex min-h-11 items-center gap-3 self-end">
          <input
            type="checkbox"
            className="size-6 accent-[var(--enamel)]"
            checked={profile.crankOnly}
            onChange={(event) => set({ crankOnly: event.target.checked })}
          />
          Power only while cranking
        </label>
      </div>
    </section>
  );
}

function Rating({ profile, problemOf, dispatch }: Props) {
  const unit = usePressureUnit();
  const { pump } = profile;
  const set = (changes: Partial<SystemProfile>) => dispatch({ type: 'set', changes });
  const rate = (field: keyof SystemProfile['pump'], value: number | undefined) =>
    set({ pump: { ...pump, [field]: value ?? NaN } });
  return (
    <section aria-label="Pump" className="card space-y-3 p-4">
      <h2 className="text-lg">A sound pump, at one point</h2>
      <div className="grid grid-cols-2 gap-3">
        <NumberField label="At the pump" unit="V" value={pump.volts} onChange={(v) => rate('volts', v)} />
        <NumberField label="Draws" unit="A" value={pump.amperes} onChange={(v) => rate('amperes', v)} />
        <NumberField label="Turns" unit="rpm" value={pump.rpm} onChange={(v) => rate('rpm', v)} />
        <NumberField
          label="Against"
          unit={unit}
          value={Number(pressureText(pump.pressurePa, unit))}
          onChange={(v) => rate('pressurePa', v === undefined ? undefined : toPascal(v, unit))}
        />
        <NumberField
          label="Winding"
          unit="Ω"
          value={pump.windingOhm}
          problem={problemOf('pump.windingOhm')}
          onChange={(v) => rate('windingOhm', v)}
        />
        <NumberField
          label="Commutator bars, if known"
          unit=""
          value={profile.bars}
          problem={problemOf('bars')}
          onChange={(bars) => set({ bars })}
        />
        <NumberField
          label="Ripple at most"
          unit="%"
          value={profile.ripplePercent}
          problem={problemOf('ripplePercent')}
          onChange={(ripplePercent) => set({ ripplePercent })}
        />
      </div>
      {problemOf('pump') && <p className="text-rust">{problemOf('pump')}</p>}
    </section>
  );
}

interface Range {
  readonly low: number | undefined;
  readonly high: number | undefined;
}

function Windows({ profile, dispatch }: Props) {
  const unit = usePressureUnit();
  const set = (changes: Partial<SystemProfile>) => dispatch({ type: 'set', changes });
  const { currentWindows, pressureWindows, speedWindows = {} } = profile;
  const inUnit = (pascal: number | undefined) =>
    pascal === undefined ? undefined : Number(pressureText(pascal, unit));
  return (
    <section aria-label="Windows" className="card space-y-2 p-4">
      <h2 className="text-lg">What to expect, by state</h2>
      <DataTable
        rows={STATES}
        keyOf={(state) => state}
        columns={[
          { title: '', cell: (state) => KEY_STATE_NAMES[state] },
          {
            title: 'Draw, A',
            cell: (state) => (
              <RangeCell
                label={`Draw, ${KEY_STATE_NAMES[state].toLowerCase()}`}
                low={currentWindows[state]?.minA}
                high={currentWindows[state]?.maxA}
                onChange={(range) =>
                  set({ currentWindows: changed(currentWindows, state, range, ['minA', 'maxA'], (a) => a) })
                }
              />
            ),
          },
          {
            title: `Pressure, ${unit}`,
            cell: (state) => (
              <RangeCell
                label={`Pressure, ${KEY_STATE_NAMES[state].toLowerCase()}`}
                low={inUnit(pressureWindows[state]?.minPa)}
                high={inUnit(pressureWindows[state]?.maxPa)}
                onChange={(range) =>
                  set({
                    pressureWindows: changed(pressureWindows, state, range, ['minPa', 'maxPa'], (v) =>
                      toPascal(v, unit),
                    ),
                  })
                }
              />
            ),
          },
          {
            title: 'Speed, rpm',
            cell: (state) => (
              <RangeCell
                label={`Speed, ${KEY_STATE_NAMES[state].toLowerCase()}`}
                low={speedWindows[state]?.minRpm}
                high={speedWindows[state]?.maxRpm}
                onChange={(range) =>
                  set({ speedWindows: changed(speedWindows, state, range, ['minRpm', 'maxRpm'], (n) => n) })
                }
              />
            ),
          },
        ]}
      />
    </section>
  );
}

/** A window with both ends is kept; with both emptied it is gone. */
function changed<W extends object>(
  windows: Partial<Record<KeyState, W>>,
  state: KeyState,
  { low, high }: Range,
  [least, most]: readonly [keyof W, keyof W],
  toSi: (value: number) => number,
): Partial<Record<KeyState, W>> {
  const rest = { ...windows };
  delete rest[state];
  if (low === undefined || high === undefined) return rest;
  return { ...rest, [state]: { [least]: toSi(low), [most]: toSi(high) } };
}

function RangeCell({ label, low, high, onChange }: Range & { label: string; onChange: (range: Range) => void }) {
  return (
    <TableField
      label={label}
      rows={[[low, high]]}
      onRows={([[nextLow, nextHigh]]) => onChange({ low: nextLow, high: nextHigh })}
    />
  );
}

function Tables({ profile, problemOf, dispatch }: Props) {
  const unit = usePressureUnit();
  const set = (changes: Partial<SystemProfile>) => dispatch({ type: 'set', changes });
  const whole = (rows: readonly (readonly (number | undefined)[])[]) =>
    rows.filter((row) => row.every((cell) => cell !== undefined)) as unknown as readonly (readonly [number, number])[];
  const problem = (field: string) =>
    [0, 1, 2, 3, 4, 5, 6, 7].map((i) => problemOf(`${field}[${i}]`)).find((text) => text !== undefined);
  const orAbsent = <T,>(rows: readonly T[]) => (rows.length > 0 ? rows : undefined);
  return (
    <section aria-label="Tables" className="card space-y-4 p-4">
      <div>
        <h2 className="text-lg">Command duty → output duty</h2>
        <p className="label">On some systems a command of 50 % means fully on: write it down here once.</p>
        <TableField
          label="Command, % and output, %"
          growing
          rows={profile.commandTable ?? []}
          onRows={(rows) => set({ commandTable: orAbsent(whole(rows)) })}
        />
        {problem('commandTable') && <p className="text-rust">{problem('commandTable')}</p>}
      </div>
      <div>
        <h2 className="text-lg">Rail sensor: V → {unit}</h2>
        <TableField
          label={`Volts and ${unit}`}
          growing
          rows={(profile.sensorTable ?? []).map(([volts, pascal]) => [volts, Number(pressureText(pascal, unit))])}
          onRows={(rows) =>
            set({
              sensorTable: orAbsent(whole(rows).map(([volts, value]) => [volts, toPascal(value, unit)] as const)),
            })
          }
        />
        {problem('sensorTable') && <p className="text-rust">{problem('sensorTable')}</p>}
      </div>
      <Feedback rows={profile.feedbackTable ?? []} onRows={(rows) => set({ feedbackTable: orAbsent(rows) })} />
    </section>
  );
}

type FeedbackRows = NonNullable<SystemProfile['feedbackTable']>;

function Feedback({ rows, onRows }: { rows: FeedbackRows; onRows: (rows: FeedbackRows) => void }) {
  const shown = [...rows, { fromPercent: NaN, toPercent: NaN, meaning: '' }];
  const set = (i: number, changes: Partial<FeedbackRows[number]>) =>
    onRows(
      shown
        .map((row, k) => (k === i ? { ...row, ...changes } : row))
        .filter((row) => row.meaning || Number.isFinite(row.fromPercent) || Number.isFinite(row.toPercent)),
    );
  return (
    <div>
      <h2 className="text-lg">Feedback duty → what it means</h2>
      {shown.map((row, i) => (
        <div key={i} className="mt-1 grid grid-cols-[9rem_1fr] gap-2">
          <TableField
            label={`Feedback ${i + 1}, from and to %`}
            rows={[[finite(row.fromPercent), finite(row.toPercent)]]}
            onRows={([[from, to]]) => set(i, { fromPercent: from ?? NaN, toPercent: to ?? NaN })}
          />
          <input
            aria-label={`Meaning of feedback ${i + 1}`}
            className="input"
            maxLength={120}
            value={row.meaning}
            onChange={(event) => set(i, { meaning: event.target.value })}
          />
        </div>
      ))}
    </div>
  );
}

const finite = (value: number) => (Number.isFinite(value) ? value : undefined);
