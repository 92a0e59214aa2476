import type { CaseHead } from '@jarro/api-types';
import type { Intake } from '@jarro/core';
import type { Case, Vehicle } from './cases.entities.js';
import type { User } from '../people/people.entities.js';

/** What of a vehicle goes into its intake. */
export function vehicleOf({ model, engine, plate, year }: Vehicle): Intake['vehicle'] {
  return { model, engine, plate, ...(year !== null && { year }) };
}

/** What is shown of a case wherever it is named. */
export function head(item: Case, vehicle: Vehicle | undefined, people: readonly User[]): CaseHead {
  return {
    id: item.id,
    version: item.version,
    number: item.number,
    complaint: item.complaint,
    stage: item.stage,
    openedAt: item.openedAt.toISOString(),
    openedBy: people.find(({ id }) => id === item.openedBy)?.name ?? null,
    ...(vehicle && {
      vehicle: { model: vehicle.model, year: vehicle.year, engine: vehicle.engine, plate: vehicle.plate },
    }),
  };
}
