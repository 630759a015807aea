/** How much room the frame of a place takes. */
import { secondsOf } from '../../document/numbers.ts';
import type { Id } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';

/** How many deadlines, ticks of each clock and `holds` rules a bottom frame, or one above it, can have at the most. */
export function frameSizes(flow: Flow, openable: Id[]) {
  const { document, rules } = flow;
  const all = Object.keys(document.places);
  const repeats = [...rules.values()].some(({ rule }) => 'every' in rule.when);
  const ticks = (pairs: [place: Id, bottom: Id][]) => {
    const most: number[] = [];
    for (const [place, bottom] of repeats ? pairs : [])
      flow.applying(place, bottom).clocks.forEach(({ due }, n) => (most[n] = Math.max(most[n] ?? 0, due.at(-1) ?? 0)));
    return most;
  };
  const count = (ids: Id[]) => {
    let deadlines = 0;
    let holds = 0;
    for (const id of ids) {
      const place = document.places[id]!;
      const group = place.kind === 'level' && place.group !== undefined ? (document.groups[place.group]?.rules ?? []) : [];
      const read = [...place.rules, ...group, ...(place.kind === 'level' ? document.rules : [])].filter((rule) =>
        rules.has(rule.id)
      );
      deadlines = Math.max(
        deadlines,
        new Set(read.flatMap(({ when }) => ('after' in when ? [secondsOf(document, when.after)] : []))).size
      );
      holds = Math.max(holds, read.filter(({ when }) => 'holds' in when).length);
    }
    return { deadlines, holds };
  };
  const upper = openable.flatMap((place) => all.map((bottom): [Id, Id] => [place, bottom]));
  return {
    bottom: { ...count(all), ticks: ticks(all.map((id) => [id, id])) },
    upper: { ...count(openable), ticks: ticks(upper) }
  };
}
