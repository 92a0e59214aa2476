import type { CaseHead } from '@jarro/api-types';
import type { Intake } from '@jarro/core';
import type { Case, Vehicle } from './cases.entities.js';
import type { User } from '../people/people.entities.js';

/** What of a vehicle goes into its intake. */
export function vehicleOf({ model, engine, plate, year }: Vehicle): Intake['vehicle'] {
  return { model, engine, plate, ...(year !== null && { year }) };
}

/** Names by id of all who may have worked on a case: this shop's people, and those of wherever it came from. */
export function peopleOf({ people }: Case, users: readonly User[]): ReadonlyMap<string, string> {
  return new Map([...Object.entries(people ?? {}), ...users.map(({ id, name }) => [id, name] as const)]);
}

/** What is shown of a case wherever it is named. */
export function head(item: Case, vehicle: Vehicle | undefined, people: ReadonlyMap<string, string>): CaseHead {
  return {
    id: item.id,
    version: item.version,
    number: item.number,
    complaint: item.complaint,
    stage: item.stage,
    openedAt: item.openedAt.toISOString(),
    openedBy: people.get(item.openedBy) ?? null,
    ...(vehicle && {
      vehicle: { model: vehicle.model, year: vehicle.year, engine: vehicle.engine, plate: vehicle.plate },
    }),
  };
}
