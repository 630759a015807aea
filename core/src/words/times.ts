/** Figures of times in words. */
import type { Figures } from '../report/report.ts';
import type { Crossing, Pass } from '../times/crossing.ts';

/** "31.25 s": to hundredths. */
export const seconds = (value: number): string => `${figure(value)} s`;

const figure = (value: number): string => String(Number(value.toFixed(2)));

/** "0.5 s after arrival, having waited 1.4 s at 3, 3". */
export function passWords({ seconds: took, waits }: Pick<Pass, 'seconds' | 'waits'>): string {
  const places = waits.map(({ at, seconds: n }) => `${seconds(n)} at ${at}`);
  return `${seconds(took)} after arrival${places.length > 0 ? `, having waited ${places.join(', then ')}` : ', without waiting'}`;
}

/** What comes of one patrol, or of all together, as a clause. */
export function crossingWords({ outcome, pass }: Pick<Crossing, 'outcome' | 'pass'>): string {
  switch (outcome) {
    case 'around':
      return 'nothing lies behind it';
    case 'passed':
      return `can be passed ${passWords(pass!)}`;
    case 'defeated':
      return 'can be passed once it is defeated';
    case 'blocked':
      return 'cannot be passed without meeting it';
    case 'met':
      return 'is where the player arrives';
    case 'open':
      return 'it is not settled whether it can be passed';
  }
}

/** "38 %": what of a limit is left. */
export const spare = (took: number, limit: number): string => `${Math.floor((1 - took / limit) * 100)} %`;

/** "20", "18–24" where the shortest route is not known, "≥ 18" where none was found, "none" where none wins. */
export function bestWords({ least, most }: Figures): string {
  if (least === undefined) return 'none';
  if (most === undefined) return `≥ ${figure(least)}`;
  return most - least < 0.005 ? figure(least) : `${figure(least)}–${figure(most)}`;
}

/** "best 20 s; given 35 s, 42 % to spare". */
export function figureWords(figures: Figures): string {
  const { least, most, limit } = figures;
  if (least === undefined) return 'No route over the plan wins.';
  const given = limit === undefined ? '' : `; given ${seconds(limit)}`;
  const left = limit !== undefined && most !== undefined && most < limit ? `, ${spare(most, limit)} to spare` : '';
  return `Best ${bestWords(figures)} s${given}${left}`;
}
