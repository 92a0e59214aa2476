import { clampOf, probeOf, toPascal, transducerOf, type ScaledTool } from '@jarro/core';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { errorText, useAddToolMutation } from '../../app/api';
import { readNumber, usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';

interface Fields {
  /** mV for an ampere; pressure at the highest output; how many times a probe divides. */
  readonly scale: string;
  readonly zeroV: string;
  readonly fullV: string;
  readonly name: string;
}

/** A clamp, transducer or probe that isn't in the list, used once or kept for the shop. */
export function OwnTool({ kind, onMade }: { kind: ScaledTool['kind']; onMade: (tool: ScaledTool) => void }) {
  const pressureUnit = usePressureUnit();
  const { register, getValues } = useForm<Fields>({
    defaultValues: { scale: '', zeroV: '0.5', fullV: '4.5', name: '' },
  });
  const [addTool, { error, isLoading }] = useAddToolMutation();
  const [problem, setProblem] = useState<string>();
  const labels = {
    clamp: 'Millivolts for an ampere',
    transducer: `Full scale, ${pressureUnit}`,
    probe: 'Divides by',
  } as const;

  const made = (): ScaledTool | undefined => {
    const fields = getValues();
    const [scale, zeroV, fullV] = [fields.scale, fields.zeroV, fields.fullV].map(readNumber);
    const name = fields.name.trim();
    if (scale === undefined || !(scale > 0)) return refuse(`${labels[kind]}: type a number above 0.`);
    if (kind === 'clamp') return clampOf(scale, name || `${scale} mV/A`);
    if (kind === 'probe') return probeOf(scale, name || `${scale} : 1`);
    if (zeroV === undefined || fullV === undefined || fullV <= zeroV) {
      return refuse('Type the volts without pressure and at full scale, the first the lower.');
    }
    return transducerOf(
      toPascal(scale, pressureUnit),
      name || `${zeroV}–${fullV} V, ${scale} ${pressureUnit}`,
      zeroV,
      fullV,
    );
  };
  const refuse = (text: string): undefined => {
    setProblem(text);
  };
  const take = async (keep: boolean) => {
    setProblem(undefined);
    const tool = made();
    if (!tool) return;
    if (keep && 'error' in (await addTool(tool))) return;
    onMade(tool);
  };
  return (
    <div role="group" aria-label={`Another ${kind}`} className="space-y-2 rounded-xl border border-line p-3">
      <Field label={labels[kind]} inputMode="decimal" autoFocus {...register('scale')} />
      {kind === 'transducer' && (
        <div className="grid grid-cols-2 gap-2">
          <Field label="V without pressure" inputMode="decimal" {...register('zeroV')} />
          <Field label="V at full scale" inputMode="decimal" {...register('fullV')} />
        </div>
      )}
      <Field label="What it is called" maxLength={60} placeholder="as written on it" {...register('name')} />
      <ErrorNotice text={problem ?? errorText(error)} />
      <div className="flex flex-wrap gap-2">
        <Button look="ink" onClick={() => void take(false)}>
          Use it
        </Button>
        <Button onClick={() => void take(true)} disabled={isLoading}>
          Use it and keep it for the shop
        </Button>
      </div>
    </div>
  );
}
