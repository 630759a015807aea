/** What makes a flow have many states: the parts of a state, each with how many times fewer there were without it. */
import type { Flow } from '../../play/flow.ts';
import type { Large } from '../report.ts';
import type { Places } from './places.ts';

/** As many states as are looked at. */
const most = 20_000;

/** The parts that matter most, of the first states found. */
export function largeness({ document }: Flow, at: Places, count: number, load: (state: number) => Int32Array): Large[] {
  const kept = (slots: number[]) => slots.filter((slot) => at.packing.fields[slot]);
  const groups: { what: string; variable?: string; slots: number[] }[] = [];
  const add = (what: string, slots: number[], variable?: string) => {
    const own = kept(slots);
    if (own.length > 0) groups.push({ what, slots: own, ...(variable === undefined ? {} : { variable }) });
  };
  for (const [id, { slot, stale, saved }] of at.variables) add(document.variables[id]!.name, [slot, stale, saved], id);
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
  add('what was saved', at.book);
  add('the level played last', [at.latest]);
  const states = Array.from({ length: Math.min(most, count) }, (_, state) => Int32Array.from(load(state)));
  const all = kept([...at.packing.fields.keys()]);
  const rated = groups
    .map(({ slots, ...group }) => {
      const others = all.filter((slot) => !slots.includes(slot));
      const distinct = new Set(states.map((values) => others.map((slot) => values[slot]).join()));
      return { ...group, times: Math.round((states.length / distinct.size) * 10) / 10 };
    })
    .sort((a, b) => b.times - a.times)
    .slice(0, 5);
  const large = rated.filter(({ times }) => times >= 1.5);
  // many parts that matter little each make a flow large too
  return large.length > 0 ? large : rated.filter(({ times }) => times > 1);
}
