import { SetMetadata } from '@nestjs/common';
import type { UserRole } from '@jarro/api-types';

/**
 * What one may do. `read` is everything of the own shop; `intake` is opening cases and writing down what the customer says;
 * `measure` is adding and voiding evidence; `compose` is making the shop's own systems; `decide` is giving a verdict that the gate allows; `manage` is people,
 * house limits and the audit log.
 */
export type Permission = 'read' | 'intake' | 'measure' | 'compose' | 'decide' | 'override' | 'manage';

const PERMISSIONS: Readonly<Record<UserRole, readonly Permission[]>> = {
  adviser: ['read', 'intake'],
  technician: ['read', 'intake', 'measure', 'compose', 'decide'],
  lead: ['read', 'intake', 'measure', 'compose', 'decide', 'override', 'manage'],
};

export function may(role: UserRole, permission: Permission): boolean {
  return PERMISSIONS[role].includes(permission);
}

export const NEEDS = 'needs';

/** Names what a route needs. A route that names nothing is refused to everyone. */
export const Needs = (permission: Permission) => SetMetadata(NEEDS, permission);
