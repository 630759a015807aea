/** What makes a flow have many states: the parts of a state, each with how many times fewer there were without it. */
import type { Flow } from '../../play/flow.ts';
import type { Large } from '../../report/report.ts';
import type { Layout } from './layout.ts';

/** As many states as are looked at, and as many times one without one of the parts. */
const most = 20_000;
const mostWithout = 4_000_000;

/** The parts that matter most, of the first states found. */
export function largeness({ document }: Flow, at: Layout, count: number, load: (state: number) => Int32Array): Large[] {
  const kept = (slots: number[]) => slots.filter((slot) => at.packing.fields[slot]);
  const groups: { what: string; variable?: string; slots: number[] }[] = [];
  const add = (what: string, slots: number[], variable?: string) => {
    const own = kept(slots);
    if (own.length > 0) groups.push({ what, slots: own, ...(variable === undefined ? {} : { variable }) });
  };
  for (const [id, { slot, stale, saved }] of at.variables) add(document.variables[id]!.name, [slot, stale, saved], id);
  const values = groups.length;
  add('which levels have been won', at.won);
  add('what is left in the level', [
    ...at.here,
    ...at.levels.flatMap((level) => level?.attemptPieces.map(({ saved }) => saved) ?? [])
  ]);
  add(
    'what is left in levels that were left',
    [...at.runPieces, ...at.keptPieces].map(({ slot }) => slot)
  );
  Object.values(document.orders).forEach(({ name }, index) => {
    const { row, position, bag } = at.orders[index]!;
    add(`where play stands in ${name}`, [...(row < 0 ? [] : [row]), position, ...(bag?.slots ?? [])]);
  });
  add('where the player is in the level', [at.spot, at.latestSpot]);
  add('what was saved', at.book);
  add('the level played last', [at.latest]);
  // many values that matter little each make a flow large together
  const together = groups.slice(0, values);
  if (values > 1)
    add(
      allOf(together.map(({ what }) => what)),
      together.flatMap(({ slots }) => slots)
    );
  const states = Math.min(most, count, Math.ceil(mostWithout / Math.max(1, groups.length)));
  const all = kept([...at.packing.fields.keys()]);
  // two states are alike without a part where what the other slots say adds up to the same number, but for rare accidents
  const without = groups.map(() => new Set<number>());
  for (let state = 0; state < states; state++) {
    const values = load(state);
    const sum = (slots: number[]) => slots.reduce((known, slot) => (known + mixed(slot, values[slot]!)) | 0, 0);
    const whole = sum(all);
    groups.forEach(({ slots }, group) => without[group]!.add((whole - sum(slots)) | 0));
  }
  const rated = groups
    .map(({ slots: _, ...group }, index) => ({ ...group, times: Math.round((states / without[index]!.size) * 10) / 10 }))
    .sort((a, b) => b.times - a.times)
    .filter(({ times }) => times >= 1.5);
  const alone = rated.filter(({ what }) => values < 2 || what !== groups.at(-1)!.what);
  return (alone.length > 0 ? alone : rated).slice(0, 5);
}

/** "Bell 1, Bell 2, Bell 3 and 37 more, together". */
function allOf(names: string[]): string {
  const first = names.slice(0, 3).join(', ');
  return `${first}${names.length > 3 ? ` and ${names.length - 3} more` : ''}, together`;
}

/** A number for a slot's value, all bits of which depend on both. */
function mixed(slot: number, value: number): number {
  let mix = Math.imul(value ^ Math.imul(slot + 1, 0x9e3779b1), 0x85ebca6b);
  mix = Math.imul(mix ^ (mix >>> 15), 0xc2b2ae35);
  return mix ^ (mix >>> 13);
}
