/** The characters that stand for the things of a plan, in its text and in its picture. */
import type { Level, Plan, PlanRead, PlanThing } from '../document/types.ts';
import { groundsOf } from '../vocabulary/ground.ts';

/** What one of the things of a plan is, whatever the cells in which it stands. */
export const readOf = (thing: PlanThing): Exclude<PlanRead, string> =>
  'piece' in thing ? { piece: thing.piece } : 'entry' in thing ? { entry: thing.entry } : { gate: thing.gate };

export const keyOf = (read: PlanRead): string => JSON.stringify(read);

/** By character what it stands for in the text of a plan: what the plan says of it, and letters for what else is placed. */
export function lettersOf(
  { pieces, entries }: Level,
  { reads = {}, things = {}, patrols = {}, view }: Plan
): Record<string, PlanRead> {
  const letters: Record<string, PlanRead> = {};
  const taken = new Set<string>([...groundsOf(view), ' ', ...Object.keys(reads)]);
  const known = new Set<string>();
  const give = (char: string, read: PlanRead) => {
    if (known.has(keyOf(read))) return;
    letters[char] = read;
    known.add(keyOf(read));
    taken.add(char);
  };
  for (const [char, read] of Object.entries(reads)) if ([...char].length === 1 && typeof read !== 'string') give(char, read);
  const nameOf = (thing: PlanThing) =>
    'piece' in thing ? (pieces[thing.piece]?.name ?? thing.piece) : 'entry' in thing ? (entries[thing.entry]?.name ?? 'E') : 'G';
  const patrolling = Object.values(patrols).map(({ piece }): PlanThing => ({ piece, cells: [] }));
  for (const thing of [...Object.values(things), ...patrolling]) {
    const name = [...nameOf(thing)].filter((char) => /[\p{L}\p{N}]/u.test(char));
    const wishes = [...name.map((char) => char.toUpperCase()), ...name, ...'ABCDEFGHIJKLMNOPQRSTUWXYZabcdefghijklmnopqrstuwxyz'];
    const char = wishes.find((each) => [...each].length === 1 && !taken.has(each)) ?? String.fromCodePoint(0x100 + taken.size);
    give(char, readOf(thing));
  }
  return letters;
}
