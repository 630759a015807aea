/** The objectives of the level that is played, ticked off. */
import type { Id } from '../document/types.ts';
import { evaluate } from '../language/evaluate.ts';
import type { Flow } from '../play/flow.ts';
import { bottom, type State } from '../play/state.ts';
import { readingOf } from '../play/turn.ts';

/** Which objectives of the bottom level are met just now; those that do not fit are not. */
export function metIn(flow: Flow, state: State): Id[] {
  const { place } = bottom(state);
  return flow.objectives
    .filter((each) => each.place === place && evaluate(each.condition, readingOf(flow, state)))
    .map(({ id }) => id);
}
