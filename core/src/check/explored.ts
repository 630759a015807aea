/** What an exploration says of a flow: of the whole, or, past the limit, of its parts. */
import type { Facts, Progress } from '../explore/facts.ts';
import { explorePacked } from '../explore/packed/explore.ts';
import type { Codes } from '../explore/packed/known-codes.ts';
import type { Flow } from '../play/flow.ts';
import type { Large } from '../report/report.ts';
import { checkApart, type Apart } from './apart.ts';
import { arrivalsOf, exploredChecks } from './explored-checks.ts';
import { seenOf, type Memory } from './memory.ts';

/** How a flow is explored: up to a limit of states, and of the bytes they take, step by step. */
export type Explorer = (
  flow: Flow,
  limit: number,
  bytes?: number,
  asked?: { codes?: Codes | undefined }
) => Generator<Progress, Facts>;

export interface ExploreOptions {
  /** How many states to look at before verdicts that are not certain by then are left open. */
  limit?: number | undefined;
  /** How many bytes the states may take, likewise. */
  bytes?: number | undefined;
  explorer?: Explorer;
  /** Of the check before, by the same explorer: what is the same to play is not explored again. */
  memory?: Memory | undefined;
}

export const usualLimit = 200_000;

/** The verdicts that need an exploration, and, where something was cut, what makes the flow so large. */
export function* explored(
  flow: Flow,
  { limit = usualLimit, bytes, explorer = explorePacked, memory }: ExploreOptions = {}
): Generator<Progress, Apart & { large?: Large[] }> {
  const seen = memory ? seenOf(flow.document, `${limit} ${bytes}`) : '';
  const recalled = memory?.recall(flow, seen);
  const facts = recalled ?? (yield* explorer(flow, limit, bytes, { codes: memory?.codes }));
  if (!recalled) memory?.keep(facts, seen);
  const cut = { states: facts.count, complete: facts.complete, checks: exploredChecks(facts), arrivals: arrivalsOf(facts) };
  const apart = facts.complete || explorer !== explorePacked ? undefined : yield* checkApart(flow, cut, limit, bytes);
  const found = apart ?? cut;
  return found.complete || facts.large.length === 0 ? found : { ...found, large: facts.large };
}
