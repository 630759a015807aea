import type { FlowDocument } from './types.ts';

/** Gives every optional map and list of the document, leaving what is there as it is. */
export function filled(value: FlowDocument): FlowDocument {
  const places = Object.fromEntries(
    Object.entries(value.places).map(([id, place]) => {
      const base = { ...place, rules: place.rules ?? [], expects: place.expects ?? [] };
      return [id, base.kind === 'level' ? { ...base, entries: base.entries ?? {}, pieces: base.pieces ?? {} } : base];
    })
  );
  const groups = Object.fromEntries(
    Object.entries(value.groups ?? {}).map(([id, group]) => [id, { ...group, rules: group.rules ?? [] }])
  );
  return {
    ...value,
    variables: value.variables ?? {},
    signals: value.signals ?? {},
    orders: value.orders ?? {},
    groups,
    places,
    rules: value.rules ?? [],
    accepted: value.accepted ?? [],
    runs: value.runs ?? {}
  };
}
