import type { StoredGate } from '@jarro/api-types';

/** What a verdict rested on, as it was kept. */
export function proofsOf(gate: StoredGate): readonly { readonly met: boolean; readonly text: string }[] {
  if ('proofs' in gate) return gate.proofs;
  return [...gate.proven.map((text) => ({ met: true, text })), ...gate.missing.map((text) => ({ met: false, text }))];
}
