/** The kind of a place, changed where it stands. */
import { change, Series, type Change } from '../patch.ts';
import {
  isLevel,
  ruleLists,
  rulePointer,
  targetsOf,
  type FlowDocument,
  type Id,
  type Place,
  type PlaceKind,
  type Target
} from '../types.ts';
import { placeKinds } from '../../vocabulary/places.ts';
import { emptyPlace, intoOrder, outOfOrders } from './places.ts';

/**
 * Makes a place one of another kind. Its name, texts, tags, expectations and rules stay; what only a level has goes with
 * it, and so do results of its own rules, the order it stands in, and what targets say that the new kind cannot have.
 */
export function changeKind(document: FlowDocument, id: Id, kind: PlaceKind): Change {
  const before = document.places[id]!;
  const series = new Series(document);
  if (before.kind === kind) return series.whole('');
  if (before.kind === 'level') series.make(change(document, '', outOfOrders(document, id)));
  const { name, brief, rules, expects, message, load, uses, tags, look } = before;
  const kept = {
    ...(brief !== undefined && { brief }),
    ...(message !== undefined && { message }),
    ...(load && { load }),
    ...(uses && { uses }),
    ...(tags && { tags }),
    ...(look && { look })
  };
  const own = before.kind === 'level' ? rules.map(({ result: _result, ...rule }) => rule) : rules;
  const place = { ...emptyPlace(kind, name), ...kept, rules: own, expects } as Place;
  series.make(change(series.now, '', [{ op: 'replace', path: `/places/${id}`, value: place }]));
  if (kind === 'level') {
    const [order] = Object.keys(series.now.orders);
    series.make(change(series.now, '', intoOrder(series.now, id, { order })));
  }
  series.make(change(series.now, '', plainTargets(series.now, id)));
  return series.whole(`${name} is now ${placeKinds[kind].one}`);
}

/** What targets toward a place say that its kind cannot have: an entry of what is no level, opening what cannot be over. */
function plainTargets(document: FlowDocument, id: Id) {
  const fitting = (target: Target): Target => {
    if (!('place' in target)) return target.else ? { ...target, else: fitting(target.else) } : target;
    if (target.place !== id) return target;
    const over = target.over && placeKinds[document.places[id]!.kind].over;
    return {
      place: id,
      ...(target.entry !== undefined && isLevel(document, id) && { entry: target.entry }),
      ...(over && { over })
    };
  };
  return [...ruleLists(document)].flatMap(({ owner, rules }) =>
    rules.flatMap(({ go }, index) => {
      if (!go || !targetsOf(go).some((target) => 'place' in target && target.place === id)) return [];
      return [{ op: 'replace' as const, path: `${rulePointer(owner)}/${index}/go`, value: fitting(go) }];
    })
  );
}
