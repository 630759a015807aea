/** The code of what outlasts a level: where a run begins, what is saved, erased and kept in slots (what its names mean: place-code.ts). */
import type { Act, With } from '../../document/types.ts';
import { by } from '../facts.ts';
import { js, set, slot as slotOf, type Code } from './instructions.ts';
import { PlaceCode } from './place-code.ts';

export abstract class ProgressCode extends PlaceCode {
  /** What is noted where a new run begins, or all is erased: nothing that was left behind is come back to by that. */
  protected undoes(how: number): Code {
    return this.sheet.leavesBehind ? js`machine.undone |= ${how};` : '';
  }

  protected beginRun(): Code {
    const { at } = this.sheet;
    const begun = at.run.flatMap(({ slot, stale, initial }) => [this.put(slot, initial), this.put(stale, 0)]);
    begun.push(this.undoRun());
    const { bookLevel, bookThisRun } = at;
    if (at.keptSlot(bookThisRun)) begun.push(js`if (${slotOf(bookLevel)} !== 0) { ${this.put(bookThisRun, 0)} }`);
    return begun;
  }

  /** Of the run all but its values goes back. */
  protected undoRun(): Code[] {
    const { at } = this.sheet;
    const undone = at.runPieces.map(({ slot, count }) => this.put(slot, count));
    for (const { row, position, bag } of at.orders) {
      if (row >= 0) undone.push(this.put(row, -1));
      undone.push(this.put(position, -1));
      for (const slot of bag?.slots ?? []) undone.push(this.put(slot, 0));
    }
    return [...undone, this.put(at.current, 0), this.put(at.last, 0)];
  }

  protected forget(): Code {
    const { at } = this.sheet;
    return at.book.map((slot) => this.put(slot, at.initial[slot]!));
  }

  protected erase(): Code {
    return [this.unused(), this.beginRun()];
  }

  /** The slot in hand holds nothing; a level that is being played stays the one played last. */
  protected unused(): Code {
    const { at } = this.sheet;
    const first = [...at.won.map((slot) => this.put(slot, 0)), this.forget()];
    if (at.keptSlot(at.latest)) {
      const elsewhere = at.levels[this.bottom] ? js`${slotOf(at.latest)} !== ${this.placed(this.bottom)} + 1` : true;
      first.push(js`if (${elsewhere}) { ${this.put(at.latest, 0)} ${this.put(at.latestSpot, 0)} }`);
    }
    if (!at.levels[this.bottom]) first.push(this.put(at.played, 0));
    for (const { slot, initial } of at.kept) first.push(this.put(slot, initial));
    for (const { slot, count } of at.keptPieces) first.push(this.put(slot, count));
    return first;
  }

  /** What is done with the picked slot: another than that in hand was never used, and is so once at the most. */
  protected readonly onSlot: Record<With<Act, 'slot'>['slot'], () => Code> = {
    take: () => {
      const { at } = this.sheet;
      if (!at.keptSlot(at.hand)) return '';
      const stale = at.run.flatMap(({ slot, stale: is, initial }) =>
        at.keptSlot(is) ? js`if (${slotOf(slot)} !== ${initial}) { ${set(is, 2)} }` : []
      );
      const taken = [
        this.undoes(by.run | by.all),
        this.unused(),
        this.undoRun(),
        stale,
        set(at.hand, js`${slotOf(at.picked)} - 1`)
      ];
      return js`if (${slotOf(at.picked)} !== 0 && ${slotOf(at.picked)} !== ${slotOf(at.hand)} + 1) { ${taken} }`;
    },
    put: () => {
      const { at } = this.sheet;
      return at.keptSlot(at.hand) ? js`if (${slotOf(at.picked)} !== 0) { ${set(at.hand, js`${slotOf(at.picked)} - 1`)} }` : '';
    },
    clear: () => {
      const { at } = this.sheet;
      return js`if (${slotOf(at.picked)} === ${slotOf(at.hand)} + 1) { ${this.undoes(by.run | by.all)} ${this.erase()} }`;
    }
  };

  /** What is told of a move back to what was saved. */
  protected resumes(index: Code): Code {
    return js`witness.resumes(${index}, ${slotOf(this.sheet.at.bookThisRun)} === 0); `;
  }

  protected save(forward: boolean): Code {
    const { at } = this.sheet;
    const level = at.levels[this.bottom];
    if (!level || !at.keptSlot(at.bookLevel)) return '';
    const progress = at.keptSlot(at.bookProgress) ? this.progress() : 0;
    const copies = [
      ...at.attempt.map(({ slot, saved }) => [saved, slot]),
      ...level.attemptPieces.map(({ slot, saved }) => [saved, slot]),
      ...at.savedRun.map(([slot, saved]) => [saved, slot])
    ];
    this.writes(at.bookLevel);
    const saved = [this.forget(), set(at.bookLevel, js`${this.placed(this.bottom)} + 1`), this.put(at.bookThisRun, 1)];
    this.writes(at.bookProgress);
    if (at.keptSlot(at.bookProgress)) saved.push(set(at.bookProgress, progress));
    if (at.keepsSpots) saved.push(this.copy(at.bookSpot, at.spot), this.savesEntry());
    for (const [to, from] of copies) saved.push(this.copy(to!, from!));
    if (!forward) return saved;
    const [book, thisRun, reached] = [at.bookLevel, at.bookThisRun, at.bookProgress].map(slotOf);
    return js`if (!(${book!} !== 0 && ${thisRun!} === 1 && ${reached!} >= ${progress})) { ${saved} }`;
  }

  /** A save arrives at the entry that is called like the checkpoint that is touched, else as the level was entered. */
  protected savesEntry(): Code {
    const { at } = this.sheet;
    this.writes(at.bookEntrySpot);
    if (!at.keptSlot(at.bookEntrySpot)) return '';
    return set(at.bookEntrySpot, this.checkpointSpot(slotOf(at.latestSpot)));
  }
}
