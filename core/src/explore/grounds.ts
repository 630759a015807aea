/**
 * Whether it has to be kept where in a level the player is. Where all passages are open both ways and nothing asks for the
 * place, every spot of the level is as good as any other: what stands somewhere can be had from anywhere, and only routes
 * have to be walked (`packed/walked.ts`).
 */
import { heapsOf, spotOf, type Heap } from '../document/ground.ts';
import { targetsOf, type Id, type Level, type Piece } from '../document/types.ts';
import { spotsIn } from '../language/ast.ts';
import { askedBeside, type Flow } from '../play/flow.ts';
import { usedUp } from '../vocabulary/pieces.ts';

/** The ground of a level that is taken apart. */
export interface Ground {
  spots: Id[];
  /** Whether states differ in where the player is. */
  kept: boolean;
  /** Where it is not kept: the spots that can be come to, which are all if any is. */
  open: Set<Id>;
}

/** The heaps of a piece as the engine counts them, each with the entries of `at` that it stands for; and what is out of reach. */
export interface Counted {
  heaps: (Pick<Heap, 'key' | 'of' | 'n' | 'spots'> & { entries: number[] })[];
  rest: number;
}

/** The places that can be opened over others. */
export function openableOf({ document, rules }: Flow): Id[] {
  const targets = [...rules.values()].flatMap(({ rule }) => (rule.go ? targetsOf(rule.go) : []));
  const opened = targets.flatMap((target) => ('place' in target && target.over ? [target.place] : []));
  return [...new Set(opened)].filter((id) => Object.hasOwn(document.places, id));
}

/** By level; none where a level is not taken apart. */
export function groundsOf(flow: Flow, openable = openableOf(flow)): Map<Id, Ground> {
  return new Map(
    flow.levels.flatMap(([id, level]): [Id, Ground][] => {
      const spots = Object.keys(level.spots);
      // without spots there is none to stand at: what stands at one is out of reach
      if (spots.length === 0 && !standsSomewhere(level)) return [];
      const open = openFrom(level);
      const free =
        spots.length === 0
          ? !takesFar(flow, level, open)
          : entrySpots(level).every((spot) => open.has(spot)) && !asksWhere(flow, id, openable) && !takesFar(flow, level, open);
      return [[id, { spots, kept: !free, open }]];
    })
  );
}

const standsSomewhere = ({ pieces }: Level): boolean => Object.values(pieces).some(({ at }) => at !== undefined);

const entrySpots = (level: Level): Id[] => [null, ...Object.keys(level.entries)].map((entry) => spotOf(level, entry)!);

/** What hangs together with the first spot. */
function openFrom({ spots, passages }: Level): Set<Id> {
  const open = new Set(Object.keys(spots).slice(0, 1));
  for (const spot of open)
    for (const { from, to } of Object.values(passages)) {
      if (from === spot && Object.hasOwn(spots, to)) open.add(to);
      if (to === spot && Object.hasOwn(spots, from)) open.add(from);
    }
  return open;
}

/** Whether some passage is not open both ways at any time, or something happens by walking, or asks where the player is. */
function asksWhere(flow: Flow, id: Id, openable: Id[]): boolean {
  const level = flow.document.places[id] as Level;
  const fitting = flow.passagesIn(id);
  if (fitting.length < Object.keys(level.passages).length) return true;
  if (fitting.some(({ passage: { both, through }, condition }) => !both || condition || through)) return true;
  const places = [id, ...openable];
  if (places.some((place) => flow.applying(place, id).all.some(({ spots, passages }) => spots.length + passages.length > 0)))
    return true;
  return askedBeside(flow).some(({ place, condition }) => places.includes(place) && spotsIn(condition).length > 0);
}

/** Whether an effect takes of a piece that stands in several places: then it matters which. */
function takesFar(flow: Flow, { pieces }: Level, open: Set<Id>): boolean {
  const taken = new Set(
    [...flow.rules.values()].flatMap(({ rule }) =>
      (rule.do ?? []).flatMap((effect) => ('remove' in effect ? [effect.remove] : 'defeat' in effect ? [effect.defeat] : []))
    )
  );
  return Object.entries(pieces).some(([id, piece]) => {
    const heaps = heapsOf(id, piece);
    return taken.has(id) && usedUp(piece) && (heaps.length > 1 || !inReach(heaps[0]!, open));
  });
}

const inReach = ({ spots }: Heap, open: Set<Id>) => spots === undefined || spots.some((spot) => open.has(spot));

/** What is counted of a used-up piece: each heap, or where it is not kept where the player is, all that are in reach together. */
export function countedHeaps(id: Id, piece: Piece, ground: Ground | undefined): Counted {
  const heaps = heapsOf(id, piece);
  const each = heaps.map((heap, entry) => ({ ...heap, entries: [entry] }));
  if (!ground || ground.kept) return { heaps: each, rest: 0 };
  const near = each.filter((heap) => inReach(heap, ground.open));
  const sum = (some: typeof each) => some.reduce((all, { n }) => all + n, 0);
  const together = near.length > 0 ? [{ key: id, n: sum(near), entries: near.flatMap(({ entries }) => entries) }] : [];
  return { heaps: together, rest: sum(each) - sum(near) };
}
