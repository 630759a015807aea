/** The parts of a document, in the order in which they are written. */
import type { FlowDocument } from '../document/types.ts';

/** One thing, a map by id or a list; a map or list that is empty may be left out of a file. */
export const documentParts: Record<keyof FlowDocument, 'one' | 'map' | 'list'> = {
  format: 'one',
  version: 'one',
  name: 'one',
  brief: 'one',
  start: 'one',
  limit: 'one',
  saves: 'one',
  movement: 'one',
  variables: 'map',
  numbers: 'map',
  signals: 'map',
  assets: 'map',
  orders: 'map',
  groups: 'map',
  places: 'map',
  rules: 'list',
  accepted: 'list',
  runs: 'map'
};

export const documentKeys = Object.keys(documentParts) as (keyof FlowDocument)[];
