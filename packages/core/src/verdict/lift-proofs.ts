import { LIFT_PUMP } from '../inference/suspects.js';
import { question, type Charge } from './charge.js';
import { fuelSeen } from './fuel-proofs.js';
import { usualState } from './path-proofs.js';
import { met, missing, type Proof } from './proof.js';

/** Less than this between the pumps is a lift pump that lifts nothing, Pa (common practice, no published source). */
const LIFTS_PA = 12e3;

/** Of two pumps the one in the tank: dead on its own feed and ground, or turning in fuel and lifting none of it. */
export function liftProofs({ suspect, facts }: Charge): readonly Proof[] {
  const state = facts.states()[0] ?? usualState(facts);
  if (suspect.id === 'lift-open') {
    const fed = facts.newest('direct-feed', LIFT_PUMP);
    return [
      fed?.value === 'dead'
        ? met('Fed and grounded directly the lift pump stays dead.', [fed.id])
        : missing(
            fed
              ? 'Fed directly the lift pump runs: it is what feeds or grounds it.'
              : 'Feed and ground the lift pump directly, fused, by the diagram: a bad feed or ground leaves it as silent.',
            fed ? [] : [question('direct-feed', LIFT_PUMP, state)],
            fed ? [fed.id] : [],
          ),
    ];
  }
  const heard = facts.newest('heard', LIFT_PUMP);
  const current = facts.newest('current', LIFT_PUMP);
  const turns = (heard && heard.value !== 'silent' && heard) || (Number(current?.value) > 0.5 && current);
  const line = facts.newest('pressure', 'lift_line');
  return [
    turns
      ? met('The lift pump turns.', [turns.id])
      : missing('Hear the lift pump turn, or clamp its current.', [
          question('heard', LIFT_PUMP, state),
          question('current', LIFT_PUMP, state),
        ]),
    line && Number(line.value) < LIFTS_PA
      ? met('Between the pumps stands next to no pressure.', [line.id])
      : missing(
          line ? 'It fills the line between the pumps.' : 'Read the pressure between the two pumps.',
          line ? [] : [question('pressure', 'lift_line', state)],
          line ? [line.id] : [],
        ),
    fuelSeen(facts),
  ];
}
