import { useMeQuery } from '../../app/api';
import type { UserRole } from '@jarro/api-types';

export type Permission = 'intake' | 'measure' | 'compose' | 'decide' | 'override' | 'manage';

/** What each role may do, so that nobody is offered what the server would refuse. */
const PERMISSIONS: Readonly<Record<UserRole, readonly Permission[]>> = {
  adviser: ['intake'],
  technician: ['intake', 'measure', 'compose', 'decide'],
  lead: ['intake', 'measure', 'compose', 'decide', 'override', 'manage'],
};

export function useMay(): (permission: Permission) => boolean {
  const { data: me } = useMeQuery();
  return (permission) => me !== undefined && PERMISSIONS[me.user.role].includes(permission);
}
