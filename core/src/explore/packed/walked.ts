/**
 * Routes through levels in which it is not kept where the player is: what has to be walked is put in between. Such a level is
 * open both ways throughout (`grounds.ts`), so that everything in it is a few passages away.
 */
import { leadsTo } from '../../document/ground.ts';
import { same } from '../../document/same.ts';
import type { Id, Step } from '../../document/types.ts';
import { eventsIn, means } from '../../play/events.ts';
import type { Flow } from '../../play/flow.ts';
import { begin, handle } from '../../play/handle.ts';
import { bottom, type State } from '../../play/state.ts';
import type { Arrow } from '../facts.ts';

/** What a route comes to: the steps behind those to an earlier state, and how it is with play then; undefined where it never settles. */
interface Played {
  before: Played | undefined;
  steps: Step[];
  /** How many events there are up to here. */
  length: number;
  state: State | undefined;
}

export class Walked {
  private readonly known = new Map<number, Played>();

  constructor(
    private readonly flow: Flow,
    /** How each state was found: from which (-1: the start), and by which step; none for a start without draws. */
    private readonly found: (state: number) => { from: number; step: Step | undefined }
  ) {}

  /** The steps to a state, or with what an arrow points at; and how many events there are. */
  to(at: Arrow | number): { steps: Step[]; length: number } {
    const played = typeof at === 'number' ? this.played(at) : this.follow(at);
    const steps: Step[][] = [];
    for (let part: Played | undefined = played; part; part = part.before) steps.push(part.steps);
    return { steps: steps.reverse().flat(), length: played.length };
  }

  private played(state: number): Played {
    const unknown: number[] = [];
    for (let at = state; at >= 0 && !this.known.has(at); at = this.found(at).from) unknown.push(at);
    for (const at of unknown.reverse()) {
      const { from, step } = this.found(at);
      this.known.set(at, from < 0 ? this.starts(step) : this.goesOn(this.known.get(from)!, step!));
    }
    return this.known.get(state)!;
  }

  private follow({ from, step, to }: Arrow): Played {
    if (from < 0) return this.starts(step.draws ? step : undefined);
    const before = this.played(from);
    return to === undefined ? this.goesOn(before, step) : this.walks(before, (state) => state.spot === to);
  }

  private starts(step: Step | undefined): Played {
    const wanted = step?.draws ?? [];
    const way = begin(this.flow, undefined, wanted)!.results.find(({ draws }) => same(draws, wanted));
    return { before: undefined, steps: step ? [step] : [], length: 0, state: way?.state };
  }

  /** The walk to where a step can be made, and the step. */
  private goesOn(before: Played, step: Step): Played {
    const { flow } = this;
    const there = this.walks(before, (state) => eventsIn(flow, state).some((event) => means(step, event)));
    const event = eventsIn(flow, there.state!).find((each) => means(step, each))!;
    const wanted = step.draws ?? [];
    const way = handle(flow, there.state!, event, undefined, wanted).results.find(({ draws }) => same(draws, wanted))!;
    return { before, steps: [...there.steps, step], length: there.length + 1, state: way.state };
  }

  /** The shortest walk in the level to where something is so; nothing happens on it. */
  private walks(before: Played, isThere: (state: State) => boolean): Played {
    const state = before.state!;
    const passages = state.spot === null ? [] : this.flow.passagesIn(bottom(state).place);
    const ways = new Map<Id | null, Step[]>([[state.spot, []]]);
    for (const [spot, steps] of ways) {
      const there = { ...state, spot };
      if (isThere(there)) return { before, steps, length: before.length + steps.length, state: there };
      for (const { name, passage } of spot === null ? [] : passages) {
        const next = leadsTo(passage, spot!);
        if (next !== undefined && !ways.has(next)) ways.set(next, [...steps, { walk: name }]);
      }
    }
    throw new Error(`No walk leads on from ${String(state.spot)} in ${bottom(state).place}.`);
  }
}
