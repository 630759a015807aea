/**
 * What a finding rests on, as a short text that is the same as long as that is: the part of the document it is about, the
 * rules and places its reasons speak of, and its variables. Names, notes and whatever else play does not see are no part.
 */
import fnv1a from '@sindresorhus/fnv1a';
import { findRule, own, type FlowDocument } from '../document/types.ts';
import type { Verdict } from '../report/report.ts';

/** 64 bits of FNV-1a (draft-eastlake-fnv), as 16 hexadecimal digits. */
export function restsOn(document: FlowDocument, { check, pointer, why = [], variables = [] }: Verdict): string {
  // of a game that is meant to have no end, or no way to it, the way round may change
  if (check === 'ending-in-reach')
    return digest(Object.keys(document.places).filter((id) => document.places[id]!.kind === 'ending'));
  // and that of a value that is meant to be kept, the levels
  if (check === 'second-game') return digest([at(document, pointer!)]);
  const parts = [
    pointer === undefined ? null : at(document, pointer),
    ...why.map(({ rule }) => (rule === undefined ? null : (findRule(document, rule)?.rule ?? null))),
    ...why.flatMap(({ places = [] }) => places.map((place) => own(document.places, place) ?? null)),
    ...variables.map((variable) => own(document.variables, variable) ?? null)
  ];
  return digest(parts);
}

const digest = (parts: unknown[]) => fnv1a(JSON.stringify(parts, playedOnly), { size: 64 }).toString(16).padStart(16, '0');

const unseen = new Set(['name', 'brief', 'note', 'tags', 'look', 'plan', 'key', 'idle']);
function playedOnly(key: string, value: unknown): unknown {
  if (unseen.has(key)) return undefined;
  // filled in where there is none: what was accepted before there were any stays accepted
  if (['objectives', 'spots', 'passages'].includes(key) && Object.keys(value as object).length === 0) return undefined;
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));
}

function at(document: FlowDocument, pointer: string): unknown {
  let found: unknown = document;
  for (const key of pointer.split('/').slice(1)) found = (found as Record<string, unknown> | null | undefined)?.[key];
  return found ?? null;
}
