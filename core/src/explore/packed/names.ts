/** What the names in conditions and expressions are as code over the slots of one flow. */
import { isLevel, type Id, type Level } from '../../document/types.ts';
import type { Had } from '../../language/ast.ts';
import type { Flow } from '../../play/flow.ts';
import type { Names } from './expressions.ts';
import { joined, js, slot as slotOf, type Code } from './instructions.ts';
import type { Layout } from './layout.ts';
import { resolves } from './resolves.ts';
import { countOf } from '../../vocabulary/pieces.ts';

/** How the last attempt ended, by the number that its slot holds. */
export const outcomes: readonly (string | undefined)[] = [undefined, 'won', 'lost'];

export class Naming {
  /** By choice variable: the number of each of its values; the same id has the same number everywhere. */
  readonly choices: Int32Array[] = [];
  /** By choice variable: which of its values a number is. */
  readonly indexes: Int32Array[] = [];
  private readonly variables = new Map<Id, number>();
  private readonly numbers = new Map<Id, number>();

  constructor(
    private readonly flow: Flow,
    private readonly at: Layout
  ) {
    const all = Object.entries(flow.document.variables).flatMap(([id, variable]) =>
      variable.type === 'choice' ? [{ id, values: variable.choices }] : []
    );
    for (const { values } of all)
      for (const value of values) if (!this.numbers.has(value)) this.numbers.set(value, this.numbers.size);
    for (const { id, values } of all) {
      this.variables.set(id, this.choices.length);
      const numbers = Int32Array.from(values, (value) => this.numbers.get(value)!);
      const index = new Int32Array(this.numbers.size);
      numbers.forEach((number, value) => (index[number] = value));
      this.choices.push(numbers);
      this.indexes.push(index);
    }
  }

  /** Which of the choice variables it is. */
  choiceVariable(id: Id): number {
    return this.variables.get(id)!;
  }

  /** The names where the level with this number is at the bottom. */
  over(bottom: number): Names {
    const { at, flow, numbers } = this;
    const { document } = flow;
    return {
      variable: (id) => {
        const variable = document.variables[id]!;
        const { slot } = at.variables.get(id)!;
        if (variable.type === 'number') return { code: slotOf(slot), min: variable.min, max: variable.max };
        if (variable.type === 'flag') return { code: js`(${slotOf(slot)} !== 0)`, min: 0, max: 1 };
        return { code: js`choices[${this.variables.get(id)!}][${slotOf(slot)}]`, min: 0, max: 0 };
      },
      left: (piece) => {
        const count = this.countAt(bottom, piece);
        const found = at.levels[bottom]!.pieces.get(piece);
        if (!found) return { code: count, min: count, max: count };
        const left = [...found.heaps.map(({ slot }) => slotOf(slot)), ...(found.rest > 0 ? [found.rest] : [])];
        return { code: left.length === 1 ? left[0]! : js`(${joined(left, ' + ')})`, min: 0, max: count };
      },
      count: (piece) => this.countAt(bottom, piece),
      won: (level) => this.won(level),
      wins: (of) => {
        const group = Object.hasOwn(document.groups, of);
        const levels = group
          ? flow.levels.filter(([, level]) => level.group === of).map(([id]) => id)
          : document.orders[of]!.levels;
        const slots = levels.filter((id) => isLevel(document, id)).map((id) => slotOf(at.won[at.placeIndex.get(id)!]!));
        return { code: js`(${slots.length > 0 ? joined(slots, ' + ') : 0})`, max: slots.length };
      },
      last: (which) => js`(${slotOf(at.last)} === ${outcomes.indexOf(which)})`,
      has: (what, order) => this.has(what, order === undefined ? undefined : Object.keys(document.orders).indexOf(order)),
      saved: slotOf(at.bookProgress),
      at: (spot) => js`(${slotOf(at.spot)} === ${at.spots[bottom]!.indexOf(spot)})`,
      choice: (id) => numbers.get(id)!,
      choices: this.choices
    };
  }

  private has(what: Had, order: number | undefined): Code {
    const { at } = this;
    if (what === 'save') return js`(${slotOf(at.bookLevel)} !== 0)`;
    if (what === 'slot') return js`(${slotOf(at.picked)} === ${slotOf(at.hand)} + 1 && ${this.used})`;
    return resolves(at, what, order);
  }

  /** Whether the slot in hand is used: a level has been played, or a kept variable has not its initial value. */
  get used(): Code {
    const { at } = this;
    const kept = Object.entries(this.flow.document.variables).flatMap(([id, { scope }]) => {
      const { slot, initial } = at.variables.get(id)!;
      return scope === 'kept' && at.keptSlot(slot) ? [js`${slotOf(slot)} !== ${initial}`] : [];
    });
    return js`(${joined([js`${slotOf(at.played)} !== 0`, ...kept], ' || ')})`;
  }

  /** Whether a level is won; what is no level never is. */
  won(id: Id): Code {
    return isLevel(this.flow.document, id) ? js`(${slotOf(this.at.won[this.at.placeIndex.get(id)!]!)} !== 0)` : false;
  }

  private countAt(bottom: number, piece: Id): number {
    return countOf((this.flow.document.places[this.at.placeIds[bottom]!] as Level).pieces[piece]!);
  }
}

/** Whether the player is at one of these spots of a level; always where none are said, or it is not kept. */
export function isHere({ spot, spots, keptAt }: Layout, level: number, among: readonly Id[] | undefined): Code {
  if (among === undefined || !keptAt[level]) return true;
  const numbers = among.map((id) => spots[level]!.indexOf(id)).filter((number) => number >= 0);
  return numbers.length === 0
    ? false
    : js`(${joined(
        numbers.map((number) => js`${slotOf(spot)} === ${number}`),
        ' || '
      )})`;
}
