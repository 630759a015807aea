/** Doors: how the player goes from one level into another and back, read from the rules of both. */
import { alike } from './ids.ts';
import { isLevel, own, type FlowDocument, type Id, type Level, type Rule, type Target } from './types.ts';

/** One side of a door: an own rule of a level that leads into another level, and neither wins nor loses. */
export interface DoorSide {
  level: Id;
  rule: Rule;
  /** The exit that is touched; a button or a deadline has none. */
  exit?: Id;
  /** The level behind it, where in that the player arrives, and the interludes on the way there. */
  to: Id;
  entry?: Id;
  through: Id[];
  /** It is a rule that the level shares with others. */
  shared?: true;
}

/** A door as seen from one of its levels; without the other side it is one-way. */
export interface Door {
  side: DoorSide;
  other?: DoorSide;
  /** The way back arrives at another door of this level: at which exit's entry. */
  wrong?: Id;
}

/** The doors of a level, in the order of its rules. */
export function doorsOf(document: FlowDocument, level: Id): Door[] {
  const sides = sidesOf(document, level);
  const others = new Map([...new Set(sides.map(({ to }) => to))].map((to) => [to, paired(document, level, to)]));
  return sides.map((side) => {
    const other = others.get(side.to)!.get(side.rule.id);
    const wrong = other && wrongExit(document, side, other);
    return { side, ...(other && { other }), ...(wrong !== undefined && { wrong }) };
  });
}

/** Whether an entry is where an exit stands: the two have one id, or one name. */
export function standsAt({ entries, pieces }: Level, entry: Id | undefined, exit: Id | undefined): boolean {
  if (entry === undefined || exit === undefined) return false;
  const [there, here] = [own(entries, entry), own(pieces, exit)];
  return there !== undefined && here !== undefined && (entry === exit || alike(there.name, here.name));
}

/** The entry where an exit stands. */
export const entryAt = (level: Level, exit: Id | undefined): Id | undefined =>
  Object.keys(level.entries).find((entry) => standsAt(level, entry, exit));

const levelAt = (document: FlowDocument, id: Id) => document.places[id] as Level;

function sidesOf(document: FlowDocument, level: Id, also: Rule[] = []): DoorSide[] {
  const { rules, pieces } = levelAt(document, level);
  return [...rules, ...also].flatMap((rule) => {
    if (!rule.go || rule.result || !('place' in rule.go)) return [];
    const exit = 'touch' in rule.when && own(pieces, rule.when.touch)?.kind === 'exit' ? rule.when.touch : undefined;
    const behind = leadsTo(document, rule.go, exit !== undefined);
    if (!behind || behind.to === level) return [];
    const shared = also.includes(rule) && { shared: true as const };
    return [{ level, rule, ...(exit !== undefined && { exit }), ...behind, ...shared }];
  });
}

/** The level behind a target; through interludes that lead into one level alone, where what leads there is an exit. */
function leadsTo(
  document: FlowDocument,
  target: Target,
  isExit: boolean
): Pick<DoorSide, 'to' | 'entry' | 'through'> | undefined {
  const through: Id[] = [];
  for (let at: Target = target; 'place' in at && !at.over;) {
    const place = own(document.places, at.place);
    if (place?.kind === 'level') return { to: at.place, ...(at.entry !== undefined && { entry: at.entry }), through };
    if (place?.kind !== 'interlude' || !isExit || through.includes(at.place)) return undefined;
    through.push(at.place);
    const [on, ...more]: Target[] = place.rules.flatMap(({ go }) => go ?? []);
    if (!on || more.length > 0) return undefined;
    at = on;
  }
  return undefined;
}

/** By the id of each rule that leads from a level into another the side that leads back through the same door. */
function paired(document: FlowDocument, from: Id, to: Id): Map<Id, DoorSide> {
  const there = sidesOf(document, from).filter((side) => side.to === to);
  // what a level shares with others may lead back too
  const { group } = levelAt(document, to);
  const shared = [...((group !== undefined && own(document.groups, group)?.rules) || []), ...document.rules];
  const back = sidesOf(document, to, shared).filter((side) => side.to === from);
  const fit = (one: DoorSide, other: DoorSide) => Number(standsAt(levelAt(document, other.level), one.entry, other.exit));
  const all = there.flatMap((one) => back.map((other) => ({ one, other, fits: fit(one, other) + fit(other, one) })));
  const found = new Map<Id, DoorSide>();
  const taken = new Set<Id>();
  // what is named as one door is one; what is left goes together in the order in which it stands
  for (const { one, other } of all.sort((a, b) => b.fits - a.fits)) {
    if (found.has(one.rule.id) || taken.has(other.rule.id)) continue;
    found.set(one.rule.id, other);
    taken.add(other.rule.id);
  }
  return found;
}

/** The exit of another door at which the way back through this one arrives. */
function wrongExit(document: FlowDocument, { level, exit }: DoorSide, { entry }: DoorSide): Id | undefined {
  const here = levelAt(document, level);
  if (entry === undefined || exit === undefined || standsAt(here, entry, exit)) return undefined;
  return Object.keys(here.pieces).find((piece) => here.pieces[piece]!.kind === 'exit' && standsAt(here, entry, piece));
}

/** The door that a rule is a side of; undefined where it is none. */
export function doorOf(document: FlowDocument, level: Id, rule: Id): Door | undefined {
  return isLevel(document, level) ? doorsOf(document, level).find(({ side }) => side.rule.id === rule) : undefined;
}
