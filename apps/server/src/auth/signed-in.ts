import type { Shop, User } from '../people/people.entities.js';

/** Whoever made a request, and the shop that all of it is scoped to. */
export interface SignedIn {
  readonly user: User;
  readonly shop: Shop;
}
