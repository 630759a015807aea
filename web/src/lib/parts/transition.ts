import type { Transition } from '@crow-lane/core/document/types';

const parts = ['wait', 'out', 'hold', 'in'] as const;
export type TransitionPart = (typeof parts)[number];

/** Seconds in all, to a hundredth. */
export function lengthOf(by: Transition): number {
  return Math.round(parts.reduce((sum, part) => sum + (by[part] ?? 0), 0) * 100) / 100;
}

/** The parts of a transition on one line of time, each with its share. */
export function spansOf(by: Transition): { part: TransitionPart; share: number }[] {
  const total = lengthOf(by) || 1;
  return parts.map((part) => ({ part, share: (by[part] ?? 0) / total }));
}

/** "fading over 0.5 s", "after 2 s". */
export function transitionWords(by: Transition): string {
  const how = { cut: '', fade: 'fading', slide: 'sliding', iris: 'by a closing circle' }[by.style];
  const rest = lengthOf({ ...by, wait: 0 });
  const words = [
    by.wait ? `after ${by.wait} s` : '',
    how && rest > 0 ? `${how} over ${rest} s` : how,
    by.colour ? `covered in ${by.colour === '#ffffff' ? 'white' : by.colour}` : '',
    by.sound ? `with the sound ${by.sound}` : '',
    by.music ? `the music ${{ keep: 'goes on', stop: 'stops', fade: 'fades' }[by.music]}` : ''
  ].filter((word) => word !== '');
  return words.join(', ') || 'at once';
}
