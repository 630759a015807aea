/** Edits of doors: both sides are made, named and deleted together, and each leads to where the other stands. */
import { cut } from '../cut.ts';
import { Series, type Change } from '../patch.ts';
import { doorOf, entryAt, standsAt, type Door } from '../doors.ts';
import { alike, idNamed } from '../ids.ts';
import { findRule, ruleLists, targetsOf, type FlowDocument, type Id, type Level, type Rule, type Target } from '../types.ts';
import { addEntry, changeEntry, removeEntry } from './lists.ts';
import { addPiece, changePiece, removePiece } from './parts.ts';
import { addRule, changeRule, doorRule, removeRule } from './rules.ts';

export interface NewDoor {
  from: Id;
  to: Id;
  /** What its exit and entry are called in `from`, and in `to`. */
  here: string;
  there: string;
  /** Where the player looks on arrival through it, in `from` and in `to`. */
  facingHere?: string;
  facingThere?: string;
  /** How going through it looks, from both sides. */
  by?: Rule['by'];
  oneWay?: boolean;
}

/** What a door of a level is called that leads to another: after that, numbered where there is one already. */
export function doorName(document: FlowDocument, level: Id | undefined, other: string): string {
  const place = level === undefined ? undefined : (document.places[level] as Level);
  const names = place ? [...Object.values(place.pieces), ...Object.values(place.entries)].map(({ name }) => name) : [];
  const isTaken = (name: string) => names.some((each) => alike(each, name));
  const base = `To ${cut(other, 70)}`;
  for (let n = 1; ; n++) {
    const name = n === 1 ? base : `${base} ${n}`;
    if (!isTaken(name)) return name;
  }
}

/** Makes a door between two levels: an exit and an entry on each side, and the two rules. */
export function addDoor(document: FlowDocument, door: NewDoor): Change & { id: Id } {
  const { from, to, here, there, by, oneWay } = door;
  const series = new Series(document);
  const exit = exitNamed(series, from, here);
  const entry = entryNamed(series, to, there, door.facingThere);
  const look = by ? { by } : {};
  const id = series.make(addRule(series.now, { place: from }, { when: { touch: exit }, go: { place: to, entry }, ...look })).id;
  if (!oneWay) {
    const go = { place: from, entry: entryNamed(series, from, here, door.facingHere) };
    series.make(addRule(series.now, { place: to }, { when: { touch: exitNamed(series, to, there) }, go, ...look }));
  }
  const names = [from, to].map((level) => document.places[level]!.name);
  return { ...series.whole(`${names[0]}: add a door to ${names[1]}`), id };
}

/** Makes the other side of a one-way door: back to where it stands, and the door arrives where that stands. */
export function addOtherSide(document: FlowDocument, rule: Id): Change {
  const { side } = door(document, rule);
  const series = new Series(document);
  const label = `${document.places[side.to]!.name}: a way back to ${document.places[side.level]!.name}`;
  if (side.exit === undefined) {
    series.make(addRule(document, { place: side.to }, doorRule(document, side.to, side.level)));
    return series.whole(label);
  }
  const name = (document.places[side.level] as Level).pieces[side.exit]!.name;
  const entry = entryNamed(series, side.level, name);
  const there = document.places[side.to] as Level;
  const exit =
    Object.keys(there.pieces).find((piece) => isFree(document, side.to, piece) && standsAt(there, side.entry, piece)) ??
    Object.keys(there.pieces).find((piece) => isFree(document, side.to, piece)) ??
    exitNamed(
      series,
      side.to,
      side.entry === undefined ? doorName(document, side.to, document.places[side.level]!.name) : there.entries[side.entry]!.name
    );
  const by = side.rule.by ? { by: side.rule.by } : {};
  series.make(addRule(series.now, { place: side.to }, { when: { touch: exit }, go: { place: side.level, entry }, ...by }));
  if (side.entry === undefined && side.through.length === 0) {
    const arrives = entryNamed(series, side.to, (series.now.places[side.to] as Level).pieces[exit]!.name);
    const { id, ...rest } = side.rule;
    series.make(changeRule(series.now, id, { ...rest, go: { place: side.to, entry: arrives } }));
  }
  return series.whole(label);
}

/** Lets the way back through a door arrive at the door itself. */
export function arriveAtDoor(document: FlowDocument, rule: Id): Change {
  const { side, other } = door(document, rule);
  const series = new Series(document);
  const { name } = (document.places[side.level] as Level).pieces[side.exit!]!;
  const entry = entryNamed(series, side.level, name);
  // through a loading screen it is that which says where the player arrives
  const last = other!.through.at(-1);
  const back = last === undefined ? other!.rule : document.places[last]!.rules.find(({ go }) => go)!;
  const { id, ...rest } = back;
  series.make(changeRule(series.now, id, { ...rest, go: { ...back.go!, entry } as Target }));
  return series.whole(`${document.places[other!.level]!.name}: the way back arrives at ${name}`);
}

/** Deletes a door, or this side of it: its rules, and the exits and entries that nothing else speaks of. */
export function removeDoor(document: FlowDocument, rule: Id, what: 'this side' | 'both sides' = 'both sides'): Change {
  const { side, other: behind } = door(document, rule);
  const other = what === 'both sides' ? behind : undefined;
  const series = new Series(document);
  const sides = other && !other.shared ? [side, other] : [side];
  for (const each of sides) series.make(removeRule(series.now, each.rule.id));
  for (const { level, exit, to, entry } of sides) {
    if (exit !== undefined && isFree(series.now, level, exit)) series.make(removePiece(series.now, level, exit));
    if (entry !== undefined && (series.now.places[to] as Level).entries[entry] && !isEntered(series.now, to, entry))
      series.make(removeEntry(series.now, to, entry));
  }
  if (what === 'this side')
    return series.whole(`${document.places[side.level]!.name}: no way back to ${document.places[side.to]!.name}`);
  return series.whole(`Delete the door between ${document.places[side.level]!.name} and ${document.places[side.to]!.name}`);
}

/** Renames an exit, and with it the entry that stands where it does. */
export function renameExit(document: FlowDocument, level: Id, exit: Id, name: string): Change {
  const series = new Series(document);
  const entry = entryAt(document.places[level] as Level, exit);
  const renamed = series.make(changePiece(document, level, exit, { name }));
  if (entry !== undefined) series.make(changeEntry(series.now, level, entry, { name }));
  return series.whole(renamed.label);
}

function door(document: FlowDocument, rule: Id): Door {
  const owner = findRule(document, rule)?.owner;
  const found = owner && 'place' in owner ? doorOf(document, owner.place, rule) : undefined;
  if (!found) throw new Error(`Rule ${rule} is no side of a door.`);
  return found;
}

/** An exit that no rule waits for. */
function isFree(document: FlowDocument, level: Id, piece: Id): boolean {
  const { pieces, rules } = document.places[level] as Level;
  return pieces[piece]?.kind === 'exit' && !rules.some(({ when }) => 'touch' in when && when.touch === piece);
}

/** Some rule names this entry of this level. */
function isEntered(document: FlowDocument, level: Id, entry: Id): boolean {
  const targets = [...ruleLists(document)].flatMap(({ rules }) => rules.flatMap(({ go }) => (go ? targetsOf(go) : [])));
  return targets.some((to) => 'entry' in to && to.entry === entry && (!('place' in to) || to.place === level));
}

function exitNamed(series: Series<FlowDocument>, level: Id, name: string): Id {
  const { pieces } = series.now.places[level] as Level;
  const there = Object.keys(pieces).find((id) => isFree(series.now, level, id) && alike(pieces[id]!.name, name));
  return there ?? series.make(addPiece(series.now, level, { name, kind: 'exit' })).id;
}

/**
 * The entry of this name. A level without entries is entered where it begins: what leads there without a door still does,
 * so the first that it gets is that one.
 */
function entryNamed(series: Series<FlowDocument>, level: Id, name: string, facing?: string): Id {
  const { entries } = series.now.places[level] as Level;
  const there = idNamed(entries, name);
  if (there !== undefined) return there;
  if (Object.keys(entries).length === 0 && isEnteredFreely(series.now, level))
    series.make(addEntry(series.now, level, { name: 'Start' }));
  return series.make(addEntry(series.now, level, { name, ...(facing ? { facing } : {}) })).id;
}

/** Something leads into this level without naming an entry. */
function isEnteredFreely(document: FlowDocument, level: Id): boolean {
  const targets = [...ruleLists(document)].flatMap(({ rules }) => rules.flatMap(({ go }) => (go ? targetsOf(go) : [])));
  return (
    document.start === level ||
    targets.some((to) => 'place' in to && to.place === level && to.entry === undefined) ||
    Object.values(document.orders).some(({ levels }) => levels.includes(level))
  );
}
