/** Where a trial can begin so that it is what a player can really meet: the arrivals at a place, one by one. */
import { arrivalSets, type ArrivalSet } from '../check/arrivals.ts';
import type { CheckOptions } from '../check/check.ts';
import type { Progress } from '../explore/facts.ts';
import { findRule, type FlowDocument, type Id } from '../document/types.ts';
import { slotsOf } from '../play/slots.ts';
import { active } from '../play/state.ts';
import { slotWords } from './slots.ts';
import { choicesOf, lineOf, playSteps, type Trial } from './trial.ts';

export interface Arrived extends ArrivalSet {
  game: Game;
  /** Where losing at once would lead: on the last life elsewhere than before. */
  losses: Id[];
  /** What the saved games hold, where there are several. */
  slots?: string;
}

/** The arrivals at a place with different values, nearest first, at most `most`; `complete` says whether these are all. */
export function* arrivedAt(
  document: FlowDocument,
  place: Id,
  most: number,
  options: CheckOptions = {}
): Generator<Progress, { arrivals: Arrived[]; complete: boolean }> {
  const { sets, complete } = yield* arrivalSets(document, place, most, options);
  const arrivals = sets.map((set) => {
    const { trial } = playSteps(document, set.route)!;
    const slots = slotsOf(document) > 1 ? { slots: slotWords(trial.flow, trial.state) } : {};
    return { ...set, game: gameOf(trial), losses: lossesIn(trial), ...slots };
  });
  return { arrivals, complete };
}

/** The places where losing the level at once would lead. */
function lossesIn(trial: Trial): Id[] {
  const { document } = trial.flow;
  const to = choicesOf(trial).flatMap((event) => {
    const { moves, state } = lineOf(trial, event);
    return state && moves.some(({ rule }) => findRule(document, rule)?.rule.result === 'lost') ? [active(state).place] : [];
  });
  return [...new Set(to)];
}

export interface Game {
  game: number;
  over: boolean;
}

/**
 * In which game a trial is, counted from 1, and whether that game is over. A game ends when an ending is entered, or home
 * after a level; the next begins with the first level after that.
 */
export function gameOf({ flow, lines }: Trial): Game {
  let [game, playing, over] = [1, false, false];
  for (const { entered } of lines)
    for (const place of entered) {
      const { kind } = flow.document.places[place]!;
      if (kind === 'level') {
        if (over) game++;
        [playing, over] = [true, false];
      } else if (playing && (kind === 'ending' || place === flow.home)) over = true;
    }
  return { game, over };
}
