/** The plan on which deriving is measured: floors over floors, seen from the side, with ladders, eight gates and two abilities. */
import type { Cell, Plan } from '../src/document/types.ts';
import { stamped } from '../src/plan/draw.ts';
import { usualMovement, type Drawn } from '../src/plan/types.ts';

/** Warehouses of so many columns and rows; the same number of gates and things whatever its size. */
export function warehouses(width: number, height: number): Drawn {
  const ground = (x: number, y: number): string => {
    const [floor, within] = [Math.floor(y / 8), y % 8];
    const along = (x * 7 + floor * 13) % 31;
    if (y === height - 1 || x === 0 || x === width - 1) return '#';
    if (within === 7) return along < 22 ? '#' : along < 25 ? '-' : '.';
    if (within === 4 && along % 9 < 3) return '-';
    return x % 29 === 11 && within > 1 ? '|' : '.';
  };
  const rows = Array.from({ length: height }, (_, y) => Array.from({ length: width }, (_, x) => ground(x, y)).join(''));
  const floors = Math.floor(height / 8);
  const spread = (n: number, every: number): Cell[] =>
    Array.from({ length: n }, (_, i) => [2 + ((i * every) % (width - 4)), height - 2 - 8 * (i % floors)]);
  let plan: Plan = { view: 'side', rows };
  plan = stamped(plan, [[1, height - 2]], { entry: 'west' });
  plan = stamped(plan, spread(20, 11), { piece: 'lamp' });
  plan = stamped(plan, spread(6, 37), { piece: 'gust' });
  for (let gate = 1; gate <= 8; gate++) {
    const x = Math.floor((gate * width) / 9);
    const foot = height - 2 - 8 * (gate % floors);
    plan = stamped(
      plan,
      [0, 1, 2, 3, 4, 5].map((up): Cell => [x, foot - up]),
      { gate: `taken(lamp) >= ${gate}` }
    );
  }
  const abilities = {
    boots: { name: 'Boots', if: 'taken(boots) >= 1', up: 4 },
    kite: { name: 'Kite', if: 'taken(kite) >= 1', across: 5 }
  };
  return { plan, movement: { ...usualMovement, abilities }, acts: new Set(['gust']) };
}
