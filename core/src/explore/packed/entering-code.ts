/** The code of being entered, and of what a move is told as numbers (what its names mean: place-code.ts). */
import type { MoveTarget, MoveWord, Target } from '../../document/types.ts';
import { js, joined, lines, set, slot as slotOf, type Code } from './instructions.ts';
import { positionIn, takenSlot } from './own.ts';
import { ProgressCode } from './progress-code.ts';

/** The steps along an order by their numbers, as `Orders.along` takes them. */
const steps: MoveWord[] = ['next', 'previous', 'first', 'last'];

export abstract class EnteringCode extends ProgressCode {
  /** The number of the entry at which a target arrives: -1 for that by which the level was entered last. */
  protected entryOf(target: Target): number {
    if ('move' in target && target.move === 'again') return -1;
    return this.sheet.at.entries.indexOf(target.entry ?? '');
  }

  /** A move along an order as numbers: which step it is, and along which order (-1: the current one); none without orders. */
  protected along({ move, order }: MoveTarget): { step: number; order: number } | undefined {
    const orders = Object.keys(this.sheet.flow.document.orders);
    if (orders.length === 0) return undefined;
    const only = orders.length === 1 ? 0 : -1;
    return { step: steps.indexOf(move), order: order === undefined ? only : orders.indexOf(order) };
  }

  /** The place, as the only one on the stack. A move along an order (-1: none) gives a position in its row. */
  protected entering(order: Code, position: Code, saved: 0 | 1 | 'saved', spot: Code): Code {
    const { at } = this.sheet;
    const here = this.placed(this.place);
    this.writes(at.place[0]!);
    const entered = [set(at.place[0]!, here), this.put(at.phase[0]!, 0)];
    for (const slot of [...at.ticks[0]!, ...at.held[0]!]) entered.push(this.put(slot, 0));
    entered.push(this.put(at.over, 0));
    if (at.keptSlot(at.picked)) entered.push(this.put(at.picked, 0));
    const level = at.levels[this.place];
    const counts = new Map(level?.here.map(({ slot, count }) => [slot, count]));
    for (const slot of at.here) entered.push(this.put(slot, counts.get(slot) ?? 0));
    if (saved === 'saved' && at.keptSlot(at.bookLevel)) entered.push(js`if (saved === 2) { ${this.bringBack()} }`);
    if (!level) {
      if (at.keepsSpots) entered.push(this.put(at.spot, 0));
      if (at.marksStale[this.place]) {
        for (const { slot, stale, initial } of at.run) {
          if (!at.keptSlot(stale)) continue;
          // what is another saved game's stays that
          const fresh = at.keptSlot(at.hand) ? js` && ${slotOf(stale)} === 0` : '';
          entered.push(js`if (${slotOf(slot)} !== ${initial}${fresh}) { ${this.put(stale, 1)} }`);
        }
      }
      return lines(entered);
    }
    const initial = at.attempt.map(({ slot, initial: value }) => this.put(slot, value));
    if (saved === 0 || !at.keptSlot(at.bookLevel)) entered.push(initial);
    else {
      const copies = [...at.attempt, ...level.attemptPieces].map(({ slot, saved: copy }) => this.copy(slot, copy));
      entered.push(saved === 'saved' ? js`if (saved !== 0) { ${copies} } else { ${initial} }` : copies);
    }
    for (const slot of [at.latest, at.current]) this.writes(slot);
    if (at.keptSlot(at.played)) entered.push(this.put(at.played, 1));
    if (at.keptSlot(at.latest)) entered.push(set(at.latest, js`${here} + 1`));
    if (at.keepsSpots) entered.push(this.standing(saved, spot));
    if (at.keptSlot(at.current)) entered.push(js`if (${order} >= 0) ${set(at.current, js`${order} + 1`)}`);
    for (const each of at.walked) entered.push(this.standIn(each, order, position));
    return lines(entered);
  }

  /** Where the player stands after arriving in the place, a level, and where it would again. */
  protected standing(saved: 0 | 1 | 'saved', spot: Code): Code {
    const { at } = this.sheet;
    if (!at.keptAt[this.place]) return [this.put(at.spot, 0), this.put(at.latestSpot, 0)];
    this.writes(at.spot);
    this.writes(at.latestSpot);
    const fresh = [set(at.spot, spot), at.keptSlot(at.latestSpot) ? set(at.latestSpot, spot) : ''];
    if (saved === 0 || !at.keptSlot(at.bookLevel)) return fresh;
    const back = [this.copy(at.spot, at.bookSpot), this.copy(at.latestSpot, at.bookEntrySpot)];
    return saved === 'saved' ? js`if (saved !== 0) { ${back} } else { ${fresh} }` : back;
  }

  /** What `load` brings back, besides the level. */
  protected bringBack(): Code {
    const { at } = this.sheet;
    const back = at.savedRun.map(([slot, saved]) => this.copy(slot, saved));
    for (const { stale } of at.run) back.push(this.put(stale, 0));
    if (at.keptSlot(at.bookThisRun)) back.push(this.put(at.bookThisRun, 1));
    return back;
  }

  /** In every order whose row holds the level the position moves to it, and it is taken out of every bag. */
  protected standIn(order: number, by: Code, to: Code): Code {
    const { at } = this.sheet;
    const { bag, row, first, position } = at.orders[order]!;
    if (bag) {
      const slot = bag.slots[bag.levels.indexOf(this.place)];
      if (slot === undefined || !at.keptSlot(slot)) return '';
      return this.setOwn('taken', this.place, takenSlot(order), 0);
    }
    if (!first.some((places) => places[this.place]! >= 0)) return '';
    this.writes(position);
    // a fixed order lists no level twice
    if (row >= 0) {
      const stands = joined([order, this.placed(this.place), by, to, slotOf(row), slotOf(position)], ',');
      return set(position, js`orders.standsAt(${stands})`);
    }
    if (!at.keptSlot(position)) return '';
    return set(position, this.ofPlace('position', this.place, positionIn(order)));
  }
}
