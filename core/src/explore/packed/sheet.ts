/** What all code of one flow is written from, and the numbers that it is given as it is written. */
import { targetsOf, type Id } from '../../document/types.ts';
import type { Expression } from '../../language/ast.ts';
import { print } from '../../language/print.ts';
import { piecesCounted, type Asking } from '../../play/fit.ts';
import { piecesThatRenew, type Flow } from '../../play/flow.ts';
import type { Naming } from './names.ts';
import type { Layout } from './layout.ts';

/** A term of a condition, to say later which values it took. */
export interface Term {
  rule: number;
  term: string;
  expression: Expression;
}

export class Sheet {
  /** The numbers of rules, and behind them of passages, which ask conditions too. */
  readonly ruleIndex: Map<string, number>;
  /** The pieces that can be met on passages: `level/piece`. */
  readonly meetable: string[];
  readonly terms: Term[] = [];
  /** By rule and printed term where it stands among them. */
  private readonly termNumbers = new Map<string, number>();
  /** Assignments that may leave a variable's range. */
  readonly sites: { rule: Id; variable: Id }[] = [];
  private readonly siteNumbers = new Map<string, number>();
  /** Some pickup stays taken beyond the level, so that it matters where runs begin and all is erased. */
  readonly leavesBehind: boolean;
  /** Some move learns only when it is made which level it enters. */
  readonly goesLate: boolean;

  /** By place the numbers of its objectives, as they stand among those of the flow. */
  readonly objectives: number[][];
  /** The pieces that some effect removes and some rule that wins counts. */
  readonly removable: Id[];
  /** What can wait to be heard, by its number: each signal, and each piece that a rule can defeat. */
  readonly heard: string[];

  constructor(
    readonly flow: Flow,
    readonly at: Layout,
    readonly naming: Naming
  ) {
    this.ruleIndex = new Map([...flow.rules.keys(), ...flow.passages.keys()].map((id, index) => [id, index]));
    this.meetable = [...flow.passages.values()].flatMap(({ level, passage }) =>
      (passage.through ?? []).map((piece) => `${level}/${piece}`)
    );
    const effects = [...flow.rules.values()].flatMap(({ rule }) => rule.do ?? []);
    const defeated = effects.flatMap((effect) => ('defeat' in effect ? [`defeat ${effect.defeat}`] : []));
    this.heard = [...Object.keys(flow.document.signals).map((signal) => `hear ${signal}`), ...new Set(defeated)];
    this.objectives = at.placeIds.map((id) => flow.objectives.flatMap(({ place }, number) => (place === id ? [number] : [])));
    const winning = [...flow.rules.values()].filter(({ rule }) => rule.result === 'won');
    const counted = new Set(winning.flatMap((rule) => [...piecesCounted(rule)]));
    this.removable = [...new Set(effects.flatMap((effect) => ('remove' in effect ? [effect.remove] : [])))].filter((id) =>
      counted.has(id)
    );
    this.leavesBehind = flow.levels.some(([, level]) =>
      piecesThatRenew(level, 'run', 'never').some(([, { kind }]) => kind === 'pickup')
    );
    this.goesLate = [...flow.rules.values()].some(
      ({ rule }) => rule.go && targetsOf(rule.go).some((target) => 'move' in target && target.move !== 'chosen')
    );
  }

  /** A rule, or a passage, by its id. */
  asking(id: string): Asking {
    return this.flow.rules.get(id) ?? this.flow.passages.get(id)!;
  }

  /** The number of a rule's term; the same one wherever the rule applies. */
  termOf(rule: number, expression: Expression): number {
    const term = print(expression);
    const key = `${rule} ${term}`;
    let known = this.termNumbers.get(key);
    if (known === undefined) this.termNumbers.set(key, (known = this.terms.push({ rule, term, expression }) - 1));
    return known;
  }

  /** The number of a rule's assignment of a variable. */
  siteOf(rule: Id, variable: Id): number {
    const key = `${rule} ${variable}`;
    let known = this.siteNumbers.get(key);
    if (known === undefined) this.siteNumbers.set(key, (known = this.sites.push({ rule, variable }) - 1));
    return known;
  }
}
