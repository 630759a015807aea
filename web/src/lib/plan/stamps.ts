/** What can be drawn in a level: ground, and the level's own pieces, entries and gates. */
import { cut } from '@crow-lane/core/document/cut';
import type { FlowDocument, Id, Level, Plan } from '@crow-lane/core/document/types';
import { isSame, thingsAt, type Stamp } from '@crow-lane/core/plan/draw';
import { patrolName } from '@crow-lane/core/plan/fits';
import { canPatrol } from '@crow-lane/core/vocabulary/pieces';
import { runOf } from '@crow-lane/core/plan/patrols';
import { lettersOf } from '@crow-lane/core/plan/letters';
import { grounds, groundsOf } from '@crow-lane/core/vocabulary/ground';
import { conditionWords } from '@crow-lane/core/words/words';

/** A stamp of the row, or what is drawn by two corners or two ends. */
export type Tool = Stamp | { link: true } | { area: true } | { patrol: Id };

/** Whether a tool is stamped into cells: all but what has ends, corners or points. */
export const isStamp = (tool: Tool): tool is Stamp => !('link' in tool || 'area' in tool || 'patrol' in tool);

export interface StampChoice {
  tool: Tool;
  label: string;
  /** How many there are of it in the plan. */
  n?: number;
  /** Its letter in the plan. */
  letter?: string;
  /** By which key it is taken. */
  key?: string;
}

export const isSameTool = (a: Tool, b: Tool): boolean => JSON.stringify(a) === JSON.stringify(b);

const keys = [...'1234567890'];

/** All stamps of a level in one row; the first ones have a key of their own. */
export function stampChoices(document: FlowDocument, id: Id, plan: Plan, moreGates: string[]): StampChoice[] {
  const level = document.places[id] as Level;
  const letters = new Map(Object.entries(lettersOf(level, plan)).map(([char, read]) => [JSON.stringify(read), char]));
  const things = Object.values(plan.things ?? {});
  const placed = (piece: Id) =>
    things.reduce((sum, thing) => sum + ('piece' in thing && thing.piece === piece ? thing.cells.length : 0), 0);
  const patrolsOf = (piece: Id) => Object.values(plan.patrols ?? {}).filter((patrol) => patrol.piece === piece).length;
  const gates = [...new Set([...things.flatMap((thing) => ('gate' in thing ? [thing.gate] : [])), ...moreGates])];
  const thing = (tool: Stamp, label: string, n?: number): StampChoice => {
    const letter = letters.get(JSON.stringify(tool));
    return { tool, label, ...(n !== undefined && { n }), ...(letter !== undefined && { letter }) };
  };
  const choices: StampChoice[] = [
    ...groundsOf(plan.view).map((ground): StampChoice => ({ tool: { ground }, label: grounds[ground]!.words })),
    ...Object.entries(level.pieces)
      .filter(([, { kind }]) => kind !== 'player')
      .map(([piece, { name }]) => thing({ piece }, name, placed(piece))),
    ...Object.entries(level.entries).map(([entry, { name }]) =>
      thing({ entry }, name, things.filter((each) => 'entry' in each && each.entry === entry).length)
    ),
    ...gates.map((gate) => {
      const named = things.find((each) => 'gate' in each && each.gate === gate && each.name !== undefined);
      const name = named && 'gate' in named ? named.name! : 'gate';
      return thing({ gate }, cut(`${name}: ${conditionWords(document, { place: id }, gate)}`, 30));
    }),
    ...Object.entries(level.pieces)
      .filter(([, { kind }]) => canPatrol(kind))
      .map(([piece, { name }]): StampChoice => ({ tool: { patrol: piece }, label: `${name} patrol`, n: patrolsOf(piece) })),
    { tool: { link: true }, label: 'link' },
    { tool: { area: true }, label: 'area' },
    { tool: { nothing: true }, label: 'rubber' }
  ];
  return choices.map((choice, index) => {
    if ('nothing' in choice.tool) return { ...choice, key: '0' };
    const key = index < 9 ? keys[index] : undefined;
    return { ...choice, ...(key && { key }) };
  });
}

/** What is in a cell, in words: the ground, and what stands on it. */
export function cellWords(document: FlowDocument, id: Id, plan: Plan, cell: [number, number]): string {
  const level = document.places[id] as Level;
  const char = plan.rows[cell[1]]?.[cell[0]];
  if (char === undefined) return 'outside of the plan';
  const things = thingsAt(plan, cell).map(({ thing }) =>
    'piece' in thing
      ? (level.pieces[thing.piece]?.name ?? thing.piece)
      : 'entry' in thing
        ? `entry ${level.entries[thing.entry]?.name ?? thing.entry}`
        : `gate: ${conditionWords(document, { place: id }, thing.gate)}`
  );
  const runs = Object.keys(plan.patrols ?? {}).filter((patrol) =>
    runOf(plan.patrols![patrol]!).some((each) => isSame(each, cell))
  );
  const patrols = runs.map((patrol) => `where ${patrolName({ ...level, plan }, patrol)} patrols`);
  return [grounds[char]?.words ?? `“${char}”, no ground`, ...things, ...patrols].join(', ');
}
