/** Edits of what rules speak of: pieces and variables. */
import { change, together, type Change, type Operation } from '../patch.ts';
import { idNamed } from '../ids.ts';
import {
  levelsOf,
  ruleLists,
  type FlowDocument,
  type Id,
  type Level,
  type Piece,
  type PieceKind,
  type Variable
} from '../types.ts';
import { idFrom } from './ids.ts';
import { withCount } from './ground.ts';
import { changedFields } from './places.ts';
import { setSaves } from './slots.ts';
import { countOf } from '../../vocabulary/pieces.ts';
import { canHappenTo, deedOf, deeds } from '../../vocabulary/triggers.ts';

/** What pieces are often called, by their kind. */
const usualNames: [PieceKind, RegExp][] = [
  ['checkpoint', /\b(checkpoint|shrine|save|campfire|bench)s?\b/i],
  ['exit', /\b(exit|door|gate|stairs?|ladder|portal|flag|goal|finish|way out|tunnel|bridge)s?\b/i],
  ['hazard', /\b(hazard|spike|pit|water|lava|fire|acid|trap|saw|abyss|fall|wall)s?\b/i],
  ['switch', /\b(switch|lever|button|rope|bell|plate|valve)(es|s)?\b/i],
  ['player', /\b(player|hero|heroine|avatar)s?\b/i],
  ['foe', /\b(foe|enemy|enemies|guard|ghost|bat|robot|drone|monster|boss|gust|wolf|spider|thief)s?\b/i]
];

/** Of which kind a piece of a name likely is: as one of that name elsewhere, else as the rules use it or its name says; else a pickup. */
export function likelyPieceKind(document: FlowDocument, name: string): PieceKind {
  const levels = levelsOf(document).map(([, { pieces }]) => pieces);
  for (const pieces of levels) {
    const same = idNamed(pieces, name);
    if (same !== undefined) return pieces[same]!.kind;
  }
  const id = idFrom(name, {}, 'piece');
  const said = usualNames.find(([, words]) => words.test(name))?.[0];
  for (const { rules } of ruleLists(document))
    for (const { when } of rules) {
      const deed = deedOf(when);
      if (deed?.piece === id) return said && canHappenTo(deed.deed, said) ? said : deeds[deed.deed].makes;
    }
  return said ?? 'pickup';
}

export function addPiece(document: FlowDocument, level: Id, piece: Piece): Change & { id: Id } {
  const place = document.places[level] as Level;
  const id = idFrom(piece.name, place.pieces, 'piece');
  return {
    ...change(document, `${place.name}: add ${piece.name}`, [{ op: 'add', path: `/places/${level}/pieces/${id}`, value: piece }]),
    id
  };
}

/** Adds a piece to several levels, under one id, so that a rule they share can name it. */
export function addPieceToAll(document: FlowDocument, levels: Id[], piece: Piece): Change & { id: Id } {
  const places = levels.map((level) => document.places[level] as Level);
  const id = idFrom(piece.name, Object.assign({}, ...places.map(({ pieces }) => pieces)) as Level['pieces'], 'piece');
  const operations = levels.map((level) => ({ op: 'add' as const, path: `/places/${level}/pieces/${id}`, value: piece }));
  return { ...change(document, `${levels.length} levels: add ${piece.name}`, operations), id };
}

/** Changes fields of a piece; undefined removes one. */
export function changePiece(document: FlowDocument, level: Id, id: Id, fields: Partial<Piece>): Change {
  const place = document.places[level] as Level;
  const piece = place.pieces[id]!;
  const label =
    fields.count !== undefined && Object.keys(fields).length === 1
      ? `${place.name}: ${piece.name} ${countOf(piece)} → ${fields.count}`
      : `${place.name}: change ${piece.name}`;
  // of what stands somewhere the count is a sum
  const { count, ...others } = fields;
  const changed = piece.at === undefined || count === undefined ? fields : { ...others, at: withCount(piece, count) };
  return change(document, label, changedFields(`/places/${level}/pieces/${id}`, piece, changed));
}

/** Deletes a piece, also from the plan of its level. */
export function removePiece(document: FlowDocument, level: Id, id: Id): Change {
  const place = document.places[level] as Level;
  const placed = Object.entries(place.plan?.things ?? {}).filter(([, thing]) => 'piece' in thing && thing.piece === id);
  const patrols = Object.entries(place.plan?.patrols ?? {}).filter(([, { piece }]) => piece === id);
  return change(document, `${place.name}: delete ${place.pieces[id]!.name}`, [
    ...placed.map(([thing]): Operation => ({ op: 'remove', path: `/places/${level}/plan/things/${thing}` })),
    ...patrols.map(([patrol]): Operation => ({ op: 'remove', path: `/places/${level}/plan/patrols/${patrol}` })),
    ...(place.plan?.below === id ? [{ op: 'remove', path: `/places/${level}/plan/below` } as const] : []),
    { op: 'remove', path: `/places/${level}/pieces/${id}` }
  ]);
}

export function addVariable(document: FlowDocument, variable: Variable): Change & { id: Id } {
  const id = idFrom(variable.name, document.variables, 'value');
  return {
    ...change(document, `Add the value ${variable.name}`, [{ op: 'add', path: `/variables/${id}`, value: variable }]),
    id
  };
}

/** Replaces a variable's policy; its id and with it everything that reads it stays. */
export function changeVariable(document: FlowDocument, id: Id, variable: Variable): Change {
  return change(document, `Change the value ${document.variables[id]!.name}`, [
    { op: 'replace', path: `/variables/${id}`, value: variable }
  ]);
}

export function removeVariable(document: FlowDocument, id: Id): Change {
  const label = `Delete the value ${document.variables[id]!.name}`;
  const removed = (now: FlowDocument) => change(now, label, [{ op: 'remove', path: `/variables/${id}` }]);
  const { saves } = document;
  if (!saves?.shows?.includes(id)) return removed(document);
  const hidden = (now: FlowDocument) => setSaves(now, { ...saves, shows: saves.shows!.filter((each) => each !== id) });
  return together(document, label, hidden, removed);
}
