/** What an exploration sees for the first time, and by which event; and the values it sees. */
import { parts, type Expression } from '../../language/ast.ts';
import type { Id } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import { Seen, type Arrow, type Facts, type RuleFacts } from '../facts.ts';
import { compile } from './expressions.ts';
import type { Growth } from './growth.ts';
import type { Witness } from './marks.ts';
import type { Machine } from './machine.ts';
import { Ranges } from './ranges.ts';
import type { MergedSlot } from './layout.ts';

/** Arrivals at one place, each series of values once with the first event that led to it; at most so many. */
export interface Watched {
  place: Id;
  most: number;
  found: Map<string, { values: number[]; arrow?: Arrow }>;
}

export class Evidence implements Witness {
  private readonly found = {
    entered: new Map() as Facts['entered'],
    completed: new Map() as Facts['completed'],
    passed: new Map() as Facts['passed'],
    stranded: new Map() as Facts['stranded'],
    unsettled: new Map() as Facts['unsettled'],
    unexpected: new Map() as Facts['unexpected'],
    met: new Map() as Facts['met'],
    unmet: new Map() as Facts['unmet'],
    judged: new Set() as Facts['judged'],
    wonByRemoval: new Map() as Facts['wonByRemoval'],
    resumed: new Set<Id>(),
    resumedEarlier: new Map() as Facts['resumedEarlier'],
    unpicked: new Map() as Facts['unpicked'],
    stood: new Map() as Facts['stood'],
    walked: new Map() as Facts['walked'],
    touchedOnWay: new Map() as Facts['touchedOnWay'],
    carried: new Map() as Facts['carried'],
    clamped: new Map() as Facts['clamped']
  };
  /** What the event being run shows first: noted when it is clear where it began and what it drew. */
  readonly firsts: ((arrow: Arrow) => void)[] = [];
  private readonly fired: (Arrow | undefined)[];
  private readonly seen: (RuleFacts['seen'] | undefined)[];
  /** By term: its values as they have been seen; nothing of them is new. */
  private readonly saw: Seen[] = [];
  /** Of terms that are merged numbers, by the number: where a value was seen that is only known when all is explored. */
  private readonly unknown = new Map<Seen, number>();
  private readonly arrivals: (Ranges | undefined)[] = [];
  private readonly expected = new Map<number, { key: string; condition: () => boolean }[]>();
  private readonly objectives = new Map<number, { key: string; condition: () => boolean }[]>();
  /** The slots of a state that has just been found, for a look at it. */
  private slotsFound: Int32Array | undefined;
  /** By number the keys of spots. */
  private spotKeys: string[] | undefined;
  /** The ids of rules and passages, by their numbers. */
  private readonly rules: string[];
  private readonly slots: number[];

  constructor(
    private readonly flow: Flow,
    private readonly machine: () => Machine,
    private readonly watched?: Watched
  ) {
    this.rules = [...flow.rules.keys(), ...flow.passages.keys()];
    this.fired = new Array<Arrow | undefined>(this.rules.length).fill(undefined);
    this.seen = new Array<RuleFacts['seen'] | undefined>(this.rules.length).fill(undefined);
    this.slots = [];
  }

  // ---- firsts ------------------------------------------------------------------------------------------------------

  fires(rule: number): void {
    this.firsts.push((arrow) => {
      this.fired[rule] ??= arrow;
      this.machine().marks.fired[rule] = 1;
    });
  }

  completes(level: number): void {
    this.first(this.found.completed, this.placeId(level));
    this.firsts.push(() => (this.machine().marks.completed[level] = 1));
  }

  enters(place: number): void {
    this.first(this.found.entered, this.placeId(place));
    this.firsts.push(() => (this.machine().marks.entered[place] = 1));
  }

  passes(level: number, rule: number): void {
    const { passed } = this.found;
    const id = this.placeId(level);
    this.firsts.push((arrow) => {
      if (!passed.has(id)) passed.set(id, { arrow, rule: this.rules[rule]! });
      this.machine().marks.passed[level] = 1;
    });
  }

  stranded(rule: number): void {
    this.first(this.found.stranded, this.rules[rule]!);
  }

  unsettled(rule: number): void {
    const { v, at, series, firings } = this.machine();
    const place = this.placeId(v[at.place[v[at.depth]! - 1]!]!);
    if (this.found.unsettled.has(place)) return;
    const fired = [...series.subarray(0, firings)];
    const loop = fired.slice(fired.lastIndexOf(rule));
    const rules = [...new Set(loop.length > 0 ? loop : [rule])].map((each) => this.rules[each]!);
    this.firsts.push((arrow) => this.found.unsettled.has(place) || this.found.unsettled.set(place, { arrow, rules }));
  }

  clamped(site: number): void {
    const { variable } = this.machine().sheet.sites[site]!;
    this.firsts.push((arrow) => this.clampsBy(site, this.machine().at.variables.get(variable)!.merged ? undefined : arrow));
  }

  private clampsBy(site: number, arrow: Arrow | undefined): void {
    const { sheet, marks } = this.machine();
    const { rule, variable } = sheet.sites[site]!;
    marks.clamped[site] = true;
    const found = this.found.clamped.get(variable);
    if (found) found.rules.add(rule);
    else this.found.clamped.set(variable, { arrow, rules: new Set([rule]) });
  }

  judges(objective: number, rule: number, isMet: boolean): void {
    const { key } = this.flow.objectives[objective]!;
    const { judged, met, unmet } = this.found;
    if (!judged.has(key)) this.firsts.push(() => judged.add(key));
    if (isMet) this.first(met, key);
    else if (!unmet.has(key)) this.firsts.push((arrow) => unmet.has(key) || unmet.set(key, { arrow, rule: this.rules[rule]! }));
  }

  winsByRemoval(rule: number): void {
    this.first(this.found.wonByRemoval, this.rules[rule]!);
  }

  resumes(rule: number, earlier: boolean): void {
    const { resumed, resumedEarlier } = this.found;
    const id = this.rules[rule]!;
    resumed.add(id);
    if (earlier) this.first(resumedEarlier, id);
  }

  unpicked(rule: number): void {
    this.first(this.found.unpicked, this.rules[rule]!);
  }

  stands(spot: number): void {
    this.spotKeys ??= this.machine().at.spots.flatMap((spots, place) => spots.map((id) => `${this.placeId(place)}/${id}`));
    const key = this.spotKeys[spot]!;
    this.firsts.push((arrow) => {
      if (!this.found.stood.has(key)) this.found.stood.set(key, arrow);
      this.machine().marks.stood[spot] = 1;
    });
  }

  walks(passage: number): void {
    const key = [...this.flow.passages.keys()][passage]!;
    this.firsts.push((arrow) => {
      if (!this.found.walked.has(key)) this.found.walked.set(key, arrow);
      this.machine().marks.walked[passage] = 1;
    });
  }

  touchesOnWay(number: number): void {
    this.first(this.found.touchedOnWay, this.machine().sheet.meetable[number]!);
    this.firsts.push(() => (this.machine().marks.touchedOnWay[number] = 1));
  }

  /** Some objective has not been met yet. */
  get asks(): boolean {
    return this.found.met.size < this.flow.objectives.length;
  }

  /** A state has been found: are the objectives of the level at its bottom met in it? */
  finds(words: Int32Array): void {
    const { at, bottomOf } = this.machine();
    this.slotsFound ??= at.initial.slice();
    const open = this.objectivesOf(bottomOf(words, 0, at.initial)).filter(({ key }) => !this.found.met.has(key));
    if (open.length === 0) return;
    at.packing.unpack(words, this.slotsFound);
    for (const { key, condition } of open) if (condition()) this.first(this.found.met, key);
  }

  private objectivesOf(place: number): { key: string; condition: () => boolean }[] {
    let found = this.objectives.get(place);
    if (!found) {
      const { naming, sheet } = this.machine();
      found = sheet.objectives[place]!.map((number) => {
        const { key, condition } = this.flow.objectives[number]!;
        return { key, condition: compile(condition, naming.over(place), this.slotsFound!) as () => boolean };
      });
      this.objectives.set(place, found);
    }
    return found;
  }

  /** A rule's move makes a level begin with stale variables. */
  carries(rule: number, variables: Id[]): void {
    const id = this.rules[rule]!;
    if (!this.found.carried.has(id))
      this.firsts.push((arrow) => this.found.carried.has(id) || this.found.carried.set(id, { arrow, variables }));
  }

  private first(map: Map<Id, Arrow>, id: Id): void {
    if (!map.has(id)) this.firsts.push((arrow) => map.has(id) || map.set(id, arrow));
  }

  private placeId(place: number): Id {
    return this.machine().at.placeIds[place]!;
  }

  // ---- values ------------------------------------------------------------------------------------------------------

  /** What a term of a condition was while the condition was false, to be able to say later why it never held. */
  sees(term: number, value: number | boolean): void {
    const { rule, term: words, expression } = this.machine().sheet.terms[term]!;
    const merged = this.mergedIn(expression);
    // a merged value may be another each time
    if (value !== merged?.top && !(this.saw[term] ??= new Seen(expression)).note(value)) return;
    const terms = (this.seen[rule] ??= new Map());
    let seen = terms.get(words);
    if (!seen) terms.set(words, (seen = new Seen(expression)));
    if (value !== merged?.top) seen.note(this.told(expression, value));
    else this.seesMerged(seen, merged);
  }

  private mergedIn(expression: Expression): MergedSlot | undefined {
    return expression.kind === 'variable' ? this.machine().at.variables.get(expression.id)!.merged : undefined;
  }

  /** A merged value that was just set is what it was set to. */
  private seesMerged(seen: Seen, merged: MergedSlot): void {
    const { at, v } = this.machine();
    if (v[merged.source] === -1) seen.note(Math.min(v[merged.added]!, merged.max));
    else this.unknown.set(seen, at.merged.indexOf(merged));
  }

  /** A choice is seen as its number. */
  private told(expression: Expression, value: number | boolean): number | boolean | string {
    const variable = expression.kind === 'variable' ? this.flow.document.variables[expression.id]! : undefined;
    if (variable?.type !== 'choice') return value;
    const { naming } = this.machine();
    const { id } = expression as Expression & { kind: 'variable' };
    return variable.choices[naming.indexes[naming.choiceVariable(id)]![value as number]!]!;
  }

  /** Something is to be seen at each arrival. */
  get looks(): boolean {
    return this.watched !== undefined || this.flow.expectations.length > 0;
  }

  /** The places entered during the event are settled: what is watched there, and whether all was as expected. */
  arrives(): void {
    const { v, at, newFrames } = this.machine();
    for (let frame = 0; frame < v[at.depth]!; frame++) {
      if ((newFrames & (1 << frame)) === 0) continue;
      const place = v[at.place[frame]!]!;
      if (this.watched && this.placeId(place) === this.watched.place) this.watches(this.watched);
      if (this.flow.expectations.length > 0) this.expects(place, v[at.place[0]!]!);
    }
  }

  /** The values with which a place was entered, from a packed state. */
  notes(place: number, words: Int32Array, from: number): void {
    (this.arrivals[place] ??= new Ranges(this.slotsOfVariables(), this.machine().at)).note(words, from);
  }

  private watches({ most, found }: Watched): void {
    const { v } = this.machine();
    const values = this.slotsOfVariables().map((slot) => v[slot]!);
    const key = values.join();
    if (found.has(key) || found.size >= most) return;
    const arrival: { values: number[]; arrow?: Arrow } = { values };
    found.set(key, arrival);
    this.firsts.push((arrow) => (arrival.arrow = arrow));
  }

  private slotsOfVariables(): number[] {
    if (this.slots.length === 0) this.slots.push(...[...this.machine().at.variables.values()].map(({ slot }) => slot));
    return this.slots;
  }

  private expects(place: number, bottom: number): void {
    for (const { key, condition } of this.expectationsAt(place, bottom)) {
      if (this.found.unexpected.has(key) || condition()) continue;
      this.firsts.push((arrow) => this.found.unexpected.has(key) || this.found.unexpected.set(key, arrow));
    }
  }

  private expectationsAt(place: number, bottom: number) {
    const { flow } = this;
    const { at, naming, v } = this.machine();
    const key = place * at.placeIds.length + bottom;
    let found = this.expected.get(key);
    if (!found) {
      const id = at.placeIds[place]!;
      const level = flow.document.places[at.placeIds[bottom]!]!;
      const pieces = level.kind === 'level' ? level.pieces : {};
      const known = (expression: Expression) =>
        parts(expression).every((part) => (part.kind !== 'left' && part.kind !== 'taken') || Object.hasOwn(pieces, part.piece));
      found = flow.expectations
        .filter((each) => each.place === id && known(each.condition))
        .map(({ index, condition }) => ({
          key: `${id}/${index}`,
          condition: compile(condition, naming.over(bottom), v) as () => boolean
        }));
      this.expected.set(key, found);
    }
    return found;
  }

  /** The values of numbers that were merged, when all is explored; `placesOf` names the places of frames in a state. */
  unmerge(
    growth: Growth,
    count: number,
    value: (state: number, index: number) => number,
    placesOf: (state: number, frames: number) => number[]
  ): void {
    const { merged, variables } = this.machine().at;
    // a copy in the bookmark is nobody's value
    const own = merged.map(({ variable, slot }) => variables.get(variable)!.slot === slot);
    const over = growth.tell(count, value, {
      arrives: (state, newFrames, index, { low, high }) => {
        if (own[index]) for (const place of placesOf(state, newFrames)) this.arrivals[place]!.unmerge(merged[index]!, low, high);
      },
      clamps: (site) => this.clampsBy(site, undefined)
    });
    for (const [seen, index] of this.unknown) {
      // where no settled state has a merged value, it was one in the middle of an event: at least that much
      const { low, high } = over[index] ?? { low: merged[index]!.top, high: merged[index]!.top };
      seen.note(low);
      seen.note(high);
    }
  }

  // ---- telling -----------------------------------------------------------------------------------------------------

  facts(): Pick<
    Facts,
    | 'entered'
    | 'fired'
    | 'completed'
    | 'passed'
    | 'stranded'
    | 'unsettled'
    | 'unexpected'
    | 'met'
    | 'unmet'
    | 'judged'
    | 'wonByRemoval'
    | 'resumed'
    | 'resumedEarlier'
    | 'unpicked'
    | 'stood'
    | 'walked'
    | 'touchedOnWay'
    | 'carried'
    | 'clamped'
    | 'rules'
  > {
    const { marks } = this.machine();
    const rules = new Map<Id, RuleFacts>();
    const fired = new Map<Id, Arrow>();
    this.rules.forEach((id, index) => {
      rules.set(id, {
        present: marks.present[index] === 1,
        happened: marks.happened[index] === 1,
        wasTrue: marks.wasTrue[index] === 1,
        wasFalse: marks.wasFalse[index] === 1,
        seen: this.seen[index] ?? new Map()
      });
      const arrow = this.fired[index];
      if (arrow) fired.set(id, arrow);
    });
    return { ...this.found, fired, rules };
  }

  /** All arrivals have been noted. */
  noted(): void {
    for (const values of this.arrivals) values?.end();
  }

  /** By place the values with which it was entered, once they have been noted. */
  valuesAtArrival(): Facts['arrivals'] {
    const { at } = this.machine();
    const told: Facts['arrivals'] = new Map();
    this.arrivals.forEach(
      (values, place) => values && told.set(this.placeId(place), values.told(this.flow, [...at.variables.keys()]))
    );
    return told;
  }
}
