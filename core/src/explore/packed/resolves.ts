/** Whether a step along an order would resolve, as code on slots: what `has(next)` asks. Nothing is drawn. */
import { joined, js, slot as slotOf, type Code } from './instructions.ts';
import type { Layout, OrderSlots } from './layout.ts';

type Step = 'next' | 'previous';

/** Along the order with this number; where none is named, along the one in which play is. */
export function resolves(at: Layout, step: Step, named: number | undefined): Code {
  const { orders } = at;
  if (named !== undefined || orders.length <= 1) return orders[named ?? 0] ? alongOrder(orders[named ?? 0]!, step) : false;
  return either(orders.map((order, number) => both(isPlayed(at, number), alongOrder(order, step))));
}

/** Whether the order is the current one, else the first that lists the level played last, else the first. */
function isPlayed({ current, latest, listing, placeIds }: Layout, order: number): Code {
  const listed = placeIds.flatMap((_, place) => (listing[place] === order ? [place + 1] : []));
  const played = among(slotOf(latest), order === 0 ? [0, ...listed] : listed);
  return either([js`${slotOf(current)} === ${order + 1}`, both(js`${slotOf(current)} === 0`, played)]);
}

function alongOrder({ bag, row, rows, position }: OrderSlots, step: Step): Code {
  if (bag) return step === 'next' ? either(bag.slots.map((slot) => js`${slotOf(slot)} === 1`)) : false;
  const from = rows.map((levels) =>
    among(
      slotOf(position),
      [-1, ...levels.keys()].filter((standing) => (levels[standing + (step === 'next' ? 1 : -1)] ?? -1) >= 0)
    )
  );
  return row < 0 ? from[0]! : either(from.map((resolving, drawn) => both(js`${slotOf(row)} === ${drawn}`, resolving)));
}

/** Whether a value is one of some numbers, which rise: told run by run. */
function among(value: Code, numbers: number[]): Code {
  const runs: [number, number][] = [];
  for (const number of numbers) {
    const run = runs.at(-1);
    if (run && run[1] === number - 1) run[1] = number;
    else runs.push([number, number]);
  }
  return either(
    runs.map(([from, to]) => (from === to ? js`${value} === ${from}` : js`${value} >= ${from} && ${value} <= ${to}`))
  );
}

const either = (codes: Code[]): Code => {
  const possible = codes.filter((code) => code !== false);
  return possible.length === 0 ? false : js`(${joined(possible, ' || ')})`;
};

const both = (one: Code, other: Code): Code => (one === false || other === false ? false : js`(${one} && ${other})`);
