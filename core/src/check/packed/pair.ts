/** A place over a bottom place, made of its code, and what all these share in one flow. */
import { targetsOf, type Id } from '../../document/types.ts';
import type { Expression } from '../../language/ast.ts';
import { arithmetic } from '../../language/evaluate.ts';
import { print } from '../../language/print.ts';
import type { Flow } from '../../play/flow.ts';
import type { Event } from '../../play/turn.ts';
import type { Machine } from './machine.ts';
import type { Naming } from './names.ts';
import { likeness } from './likeness.ts';
import type { Self } from './rule-code.ts';
import { codeOfPair, type Code, type Entrance, type Into, type Part, type Step } from './pair-code.ts';
import type { Places } from './places.ts';

/** What can happen in a place over a bottom place, as functions on the slots. */
export interface Pair extends Entrance {
  place: number;
  bottom: number;
  events: Event[];
  /** By event, and all of them, each once. */
  steps: Step[];
  every(own: number): void;
  /** By event where its own numbers begin among those of the place, and where these begin. */
  begins: number[];
  own: number;
  into: Into | undefined;
}

/** A term of a condition, to say later which values it took. */
export interface Term {
  rule: number;
  term: string;
  expression: Expression;
}

/** What every pair of one flow shares. */
export class Sheet {
  readonly ruleIndex: Map<Id, number>;
  readonly terms: Term[] = [];
  /** By rule and printed term where it stands among them. */
  private readonly termNumbers = new Map<string, number>();
  /** Assignments that may leave a variable's range. */
  readonly sites: { rule: Id; variable: Id }[] = [];
  /** The most rules that the text of a step fires, and that of one that enters a level. */
  mostInSteps = 0;
  mostInEntrances = 0;
  private readonly siteNumbers = new Map<string, number>();
  /** Some move learns only when it is made which level it enters. */
  readonly goesLate: boolean;

  constructor(
    readonly flow: Flow,
    readonly at: Places,
    readonly naming: Naming
  ) {
    this.ruleIndex = new Map([...flow.rules.keys()].map((id, index) => [id, index]));
    this.goesLate = [...flow.rules.values()].some(
      ({ rule }) => rule.go && targetsOf(rule.go).some((target) => 'move' in target && target.move !== 'chosen')
    );
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

/** Code whose steps are bound to a machine. */
interface Made {
  code: Code;
  steps: Step[];
  every(own: number): void;
}

/** Makes pairs for a machine. */
export class Pairs {
  /** What all generated code is given, but for the numbers: those of all places for their events, as `Pair.own` says. */
  private readonly given: unknown[];
  private readonly numbers: number[] = [];
  /** By what levels have in common. */
  private readonly known = new Map<string, Made>();

  constructor(
    private readonly sheet: Sheet,
    machine: Machine
  ) {
    const { v, base, next, watcher, queue, marks, naming } = machine;
    const { happened, wasTrue, wasFalse, fired, completed, entered, clamped, terms } = marks;
    const noted = [happened, wasTrue, wasFalse, fired, completed, entered, clamped, terms];
    this.given = [v, base, next, watcher, machine, naming.choices, naming.indexes, queue, ...noted, arithmetic];
  }

  of(place: number, bottom: number): Pair {
    const { sheet, known } = this;
    const { at, flow } = sheet;
    const { all } = flow.applying(at.placeIds[place]!, at.placeIds[bottom]!);
    const self = { place, rules: all };
    const alike = place === bottom ? likeness(sheet, self) : undefined;
    const { code, steps, every } = (alike !== undefined && known.get(alike)) || this.made(self, bottom, alike);
    const own = this.numbers.length;
    for (const step of code.steps) for (const of of step.own.numbers) this.numbers.push(of(self));
    const bound = <Made>({ make, own: { numbers } }: Part<Made>) =>
      make(
        ...this.given,
        numbers.map((of) => of(self))
      );
    const { events, begins, into } = code;
    return { place, bottom, events, steps, every, begins, own, into: into && bound(into), ...bound(code.entrance) };
  }

  private made(self: Self, bottom: number, alike: string | undefined): Made {
    const code = codeOfPair(this.sheet, self, bottom);
    const steps = code.steps.map(({ make }) => make(...this.given, this.numbers));
    const made = { code, steps, every: code.every(steps) };
    const parts = [...code.steps, code.entrance, ...(code.into ? [code.into] : [])];
    if (alike !== undefined && !parts.some(({ own }) => own.alone)) this.known.set(alike, made);
    return made;
  }
}
