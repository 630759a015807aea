/** What can be done, in words. */
import { own, type Event, type FlowDocument, type Id, type Level } from '@crow-lane/core/document/types';
import { eventSaid } from '@crow-lane/core/vocabulary/triggers';

/** "press Begin", "collect Lamp": ids are said by the names of the level that is played. */
export function labelOf(document: FlowDocument, level: Id, event: Event): string {
  const { pieces = {}, passages = {}, spots = {} } = document.places[level] as Partial<Level>;
  const named = (map: Record<Id, { name: string }>) => (id: Id) => own(map, id)?.name ?? id;
  const passage = (id: Id) => {
    const { name, from, to, both } = own(passages, id) ?? {};
    if (name !== undefined || from === undefined || to === undefined) return name ?? id;
    return `${named(spots)(from)} ${both ? '↔' : '→'} ${named(spots)(to)}`;
  };
  return eventSaid(event, {
    variable: named(document.variables),
    signal: named(document.signals),
    order: named(document.orders),
    piece: named(pieces),
    spot: named(spots),
    passage,
    place: named(document.places),
    seconds: (seconds) => `${typeof seconds === 'number' ? seconds : (own(document.numbers, seconds)?.value ?? seconds)} s`,
    value: (_, text) => text,
    text: (text) => text
  });
}
