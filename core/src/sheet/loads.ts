/** What levels cost to load. */
import { levelsOf, type FlowDocument, type Id } from '../document/types.ts';

/** What the levels of a group (undefined: of none) load together; undefined where none of them says. */
export function loadOf(document: FlowDocument, group: Id | undefined): { megabytes: number; seconds: number } | undefined {
  const loads = levelsOf(document).flatMap(([, level]) => (level.group === group && level.load ? [level.load] : []));
  // sums of tenths are not to show what binary fractions make of them
  const sum = (what: 'megabytes' | 'seconds') => Number(loads.reduce((all, load) => all + (load[what] ?? 0), 0).toPrecision(12));
  return loads.length === 0 ? undefined : { megabytes: sum('megabytes'), seconds: sum('seconds') };
}
