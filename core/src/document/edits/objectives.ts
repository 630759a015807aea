/** Edits of the objectives of levels. */
import { change, type Change } from '../patch.ts';
import type { FlowDocument, Id, Level, Objective } from '../types.ts';
import { usedUp } from '../../vocabulary/pieces.ts';
import { idFrom } from './ids.ts';
import { changedFields } from './places.ts';

const objectivesOf = (document: FlowDocument, level: Id) => (document.places[level] as Level).objectives;

export function addObjective(document: FlowDocument, level: Id, objective: Objective): Change & { id: Id } {
  const id = idFrom(objective.text, objectivesOf(document, level), 'objective');
  const path = `/places/${level}/objectives/${id}`;
  const label = `${document.places[level]!.name}: add the objective ${objective.text}`;
  return { ...change(document, label, [{ op: 'add', path, value: objective }]), id };
}

/** When an objective is likely met: all of the piece, or the flag, that its text speaks of; never, where it speaks of none. */
export function likelyMet(document: FlowDocument, level: Id, text: string): string {
  const said = text.toLowerCase();
  const speaksOf = ([, { name }]: [Id, { name: string }]) => said.includes(name.toLowerCase());
  const pieces = Object.entries((document.places[level] as Level).pieces).filter(([, piece]) => usedUp(piece));
  const piece = pieces.find(speaksOf);
  if (piece) return `left(${piece[0]}) = 0`;
  const flag = Object.entries(document.variables).find((entry) => entry[1].type === 'flag' && speaksOf(entry));
  return flag ? flag[0] : 'false';
}

export function changeObjective(document: FlowDocument, level: Id, id: Id, fields: Partial<Objective>): Change {
  const objective = objectivesOf(document, level)[id]!;
  const label = `${document.places[level]!.name}: change the objective ${objective.text}`;
  return change(document, label, changedFields(`/places/${level}/objectives/${id}`, objective, fields));
}

export function removeObjective(document: FlowDocument, level: Id, id: Id): Change {
  const label = `${document.places[level]!.name}: delete the objective ${objectivesOf(document, level)[id]!.text}`;
  return change(document, label, [{ op: 'remove', path: `/places/${level}/objectives/${id}` }]);
}
