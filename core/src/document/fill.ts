import { grown } from '../plan/grown.ts';
import { documentParts } from '../vocabulary/document.ts';
import type { FlowDocument, Level } from './types.ts';
import { versionOf } from './version.ts';

/**
 * Gives every optional map and list of the document, what follows from the plans of its levels, and the version that it
 * needs, leaving what is there as it is.
 */
export function filled(value: FlowDocument): FlowDocument {
  const whole: Record<string, unknown> = { ...value };
  for (const [part, holds] of Object.entries(documentParts)) {
    if (holds === 'map') whole[part] ??= {};
    else if (holds === 'list') whole[part] ??= [];
  }
  const { places, groups } = whole as Pick<FlowDocument, 'places' | 'groups'>;
  whole.places = Object.fromEntries(
    Object.entries(places).map(([id, place]) => {
      const base = { ...place, rules: place.rules ?? [], expects: place.expects ?? [] };
      if (base.kind !== 'level') return [id, base];
      const { entries = {}, pieces = {}, objectives = {}, spots = {}, passages = {} } = base as Partial<Level>;
      return [id, { ...base, entries, pieces, objectives, spots, passages }];
    })
  );
  whole.groups = Object.fromEntries(Object.entries(groups).map(([id, group]) => [id, { ...group, rules: group.rules ?? [] }]));
  const document = grown(whole as unknown as FlowDocument);
  return { ...document, version: versionOf(document) };
}
