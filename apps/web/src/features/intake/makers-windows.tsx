import { KEY_STATE_NAMES, shownAs } from '@jarro/core';
import { useFormContext, useWatch } from 'react-hook-form';
import { readNumber, usePressureUnit } from '../../app/units';
import { UNFINISHED, WINDOW_STATES, type IntakeForm, type WindowState } from './intake-form';

/** The maker's own pressure windows; they come before any rule of thumb. */
export function MakersWindows() {
  const { control } = useFormContext<IntakeForm>();
  const windows = useWatch({ control, name: 'intake.makersWindows' });
  return (
    <details open={Object.keys(windows).length > 0} className="rounded-2xl border border-line px-4">
      <summary className="min-h-11 cursor-pointer py-3 font-semibold">
        Maker’s pressure windows, if you have them
      </summary>
      <div className="grid gap-2 pb-4 md:grid-cols-2">
        {WINDOW_STATES.map((state) => (
          <WindowFields key={state} state={state} />
        ))}
      </div>
    </details>
  );
}

function WindowFields({ state }: { state: WindowState }) {
  const { register, getValues, setValue } = useFormContext<IntakeForm>();
  const unit = usePressureUnit();
  const { toSi } = shownAs('Pa', 'rail', unit);
  /** Two numbers make a window; anything else none. */
  const read = () => {
    const { low, high } = getValues(`typed.windows.${state}`);
    const [min, max] = [readNumber(low), readNumber(high)];
    const { [state]: _, ...others } = getValues('intake.makersWindows');
    const window = min !== undefined && max !== undefined && { [state]: { minPa: toSi(min), maxPa: toSi(max) } };
    setValue('intake.makersWindows', { ...others, ...window });
  };
  const end = (which: 'low' | 'high', name: string) => (
    <input
      aria-label={`${KEY_STATE_NAMES[state]}, ${name} in ${unit}`}
      className="input w-24"
      inputMode="decimal"
      {...register(`typed.windows.${state}.${which}`, {
        onChange: read,
        validate: (_text, { typed }) => UNFINISHED.window(state, typed.windows[state], unit),
      })}
    />
  );
  return (
    <div className="flex items-center gap-2">
      <span className="w-20">{KEY_STATE_NAMES[state]}</span>
      {end('low', 'lowest')}
      to
      {end('high', 'highest')}
      {unit}
    </div>
  );
}
