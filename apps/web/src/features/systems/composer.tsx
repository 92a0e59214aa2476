import { newStation, type FieldProblem, type StationKind, type SystemProfile } from '@jarro/core';
import isEqual from 'fast-deep-equal';
import { createContext, use, useEffect, useMemo, useState, type ReactNode } from 'react';
import { FormProvider, useFieldArray, useForm, useFormContext, useWatch } from 'react-hook-form';
import type { PressureUnitName } from '@jarro/api-types';
import { useMeQuery } from '../../app/api';
import { useKept } from '../../app/kept';
import { usePressureUnit } from '../../app/units';
import { useMay } from '../session/use-may';
import { formOf, stationForm, type ProfileForm } from './profile-form';
import { profileOf } from './profile-of';
import { problemsOf } from './profile-problems';

/** A system that is being composed, with what is wrong with it at every moment. */
interface Composed {
  readonly profile: SystemProfile;
  readonly problems: readonly FieldProblem[];
  /** Whether it differs from what it began with. */
  readonly dirty: boolean;
  /** Back to what it began with. */
  readonly drop: () => void;
  /** Forgets what this device keeps of it: it is kept by the server now. */
  readonly forget: () => void;
  /** Place of the station whose fields are open; -1 without one. */
  readonly chosen: number;
  readonly choose: (station: string) => void;
}

const ComposedContext = createContext<Composed | undefined>(undefined);

/** The system being composed on this page. */
export function useComposed(): Composed {
  const composed = use(ComposedContext);
  if (!composed) throw new Error('There is no system on this page.');
  return composed;
}

/** What is wrong with a field of the profile, in a sentence. */
export function useProblem(field: string): string | undefined {
  return useComposed().problems.find((problem) => problem.field === field)?.message;
}

interface FormProps {
  readonly initial: SystemProfile;
  /** Under which name what is written stays on this device. */
  readonly keptAs: string;
  readonly children: ReactNode;
}

/** The form of one system; what is written stays on this device until it is kept. */
export function ComposerForm(props: FormProps) {
  const unit = usePressureUnit();
  const { data: me } = useMeQuery();
  // Its texts are somebody's, and pressures among them in their unit: whoever takes over begins with their own.
  return <FormIn key={`${me?.user.id}/${unit}`} {...props} unit={unit} />;
}

function FormIn({ initial, keptAs, unit, children }: FormProps & { unit: PressureUnitName }) {
  const [kept, keep] = useKept<ProfileForm>(`system-form/${unit}/${keptAs}`);
  const begun = useMemo(() => formOf(initial, unit), [initial, unit]);
  const form = useForm<ProfileForm>({ defaultValues: kept ?? begun });
  const { control, reset, subscribe } = form;
  const [chosenId, choose] = useState(initial.stations[0]?.id);
  const values = useWatch({ control }) as ProfileForm;
  const profile = useMemo(() => profileOf(values, initial, unit), [values, initial, unit]);
  const unchanged = useMemo(() => profileOf(begun, initial, unit), [begun, initial, unit]);
  const dirty = !isEqual(profile, unchanged);
  const may = useMay()('compose');
  useEffect(
    () => subscribe({ formState: { values: true }, callback: ({ values: written }) => may && keep(written) }),
    [subscribe, keep, may],
  );
  // What is as it was again needs no draft.
  const isDraftLeft = kept !== undefined && isEqual(values, begun);
  useEffect(() => {
    if (isDraftLeft) keep(undefined);
  }, [isDraftLeft, keep]);
  const composed: Composed = {
    profile,
    problems: useMemo(() => problemsOf(values, profile), [values, profile]),
    dirty,
    drop: () => {
      reset(begun);
      keep(undefined);
    },
    forget: () => keep(undefined),
    chosen: values.stations.findIndex(({ id }) => id === chosenId),
    choose,
  };
  return (
    <FormProvider {...form}>
      <ComposedContext value={composed}>{children}</ComposedContext>
    </FormProvider>
  );
}

/** What can be done with the path's stations. */
export function useStations() {
  const { chosen, choose } = useComposed();
  const { control, getValues } = useFormContext<ProfileForm>();
  const { insert, move, remove } = useFieldArray({ control, name: 'stations', keyName: 'key' });
  return {
    stations: useWatch({ control, name: 'stations' }),
    /** Without a place: behind the one that is chosen. */
    insert: (kind: StationKind, at = chosen + 1) => {
      const station = newStation(kind, getValues('stations'));
      insert(at, stationForm(station), { shouldFocus: false });
      choose(station.id);
    },
    move,
    remove,
  };
}
