/** Random plans, small enough to be played cell by cell. */
import fc from 'fast-check';
import type { Ability, Plan, PlanLink, PlanThing } from '../../src/document/types.ts';
import type { Drawn, Moving } from '../../src/plan/types.ts';

/** The pieces of a plan; those that being in their cell touches. */
const pickups = ['key', 'boots', 'lamp'];
export const acting = ['lever', 'spikes', 'exit'];
const conditions = ['taken(key) >= 1', 'taken(lamp) >= 1', 'taken(boots) >= 1'];

const ground = {
  above: fc.oneof(
    { weight: 6, arbitrary: fc.constant('.') },
    { weight: 3, arbitrary: fc.constant('#') },
    { weight: 1, arbitrary: fc.constantFrom('<', '>', '^', 'v', '|', '-') }
  ),
  side: fc.oneof(
    { weight: 6, arbitrary: fc.constant('.') },
    { weight: 3, arbitrary: fc.constant('#') },
    { weight: 2, arbitrary: fc.constantFrom('-', '|') }
  )
};

/** What of a drawn plan `acts` is. */
export const acts: ReadonlySet<string> = new Set(acting);

export interface PlanShape {
  /** Without conditions and pieces that act: where falls out of the rows are looked at. */
  plain?: boolean;
}

export function randomPlan(view: Plan['view'], { plain = false }: PlanShape = {}): fc.Arbitrary<Drawn> {
  const [width, height] = view === 'above' ? [5, 4] : [6, 5];
  const cell = fc.tuple(fc.nat(width - 1), fc.nat(height - 1));
  const thing = (name: string) => ({ weight: 1, arbitrary: fc.constant(name) });
  const spare = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined, freq: 1 });
  return fc
    .record({
      rows: fc.array(fc.array(ground[view], { minLength: width, maxLength: width }), { minLength: height, maxLength: height }),
      start: spare(cell),
      placed: fc.array(fc.tuple(fc.oneof(...[...pickups, ...(plain ? [] : acting)].map(thing)), cell), { maxLength: 5 }),
      gates: fc.array(fc.tuple(fc.constantFrom(...conditions), cell), { maxLength: plain ? 0 : 2 }),
      links: fc.array(
        fc.record(
          { from: cell, to: cell, both: fc.constant(true as const), if: fc.constantFrom(...conditions) },
          { requiredKeys: ['from', 'to'] }
        ),
        { maxLength: 1 }
      ),
      area: spare(fc.tuple(cell, cell)),
      up: fc.nat(2),
      across: fc.nat(3),
      drop: spare(fc.integer({ min: 1, max: 2 })),
      tall: fc.constantFrom(1, 1, 2),
      diagonal: spare(fc.constant(true as const)),
      ability: spare(fc.tuple(fc.constantFrom(...conditions), fc.nat(3), fc.nat(4)))
    })
    .map(({ rows, start, placed, gates, links, area, up, across, drop, tall, diagonal, ability }) => {
      const things: Record<string, PlanThing> = {};
      const taken = new Set<string>();
      const free = ([x, y]: [number, number]) => rows[y]![x] !== '#' && !taken.has(`${x} ${y}`) && taken.add(`${x} ${y}`);
      if (start && free(start)) things.start = { entry: 'start', cell: start };
      placed.forEach(([piece, at], n) => free(at) && (things[`p${n}`] = { piece, cells: [at] }));
      gates.forEach(([gate, at], n) => free(at) && (things[`g${n}`] = { gate, cells: [at] }));
      const found: Record<string, PlanLink> = {};
      links.forEach(({ if: condition, ...link }, n) => {
        found[`l${n}`] = { ...link, ...(condition !== undefined && !plain && { if: condition }) };
      });
      const plan: Plan = {
        view,
        rows: rows.map((row) => row.join('')),
        things,
        links: found,
        areas: area ? { a: { name: 'Yard', from: area[0], to: area[1] } } : {},
        ...(plain && { below: 'water' })
      };
      const abilities: Record<string, Ability> =
        ability && !plain
          ? { leap: { name: 'Leap', if: ability[0], up: ability[1], across: ability[2], ...(diagonal && { diagonal }) } }
          : {};
      const movement: Moving = {
        above: { speed: 4, diagonal: diagonal === true && !ability },
        side: { speed: 4, up, across, tall, drop },
        abilities
      };
      return { plan, movement, acts };
    });
}
