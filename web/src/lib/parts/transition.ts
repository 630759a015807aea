import { timedParts, type Timed, type TimedPart } from '@crow-lane/core/document/numbers';

/** Seconds in all, to a hundredth. */
export function lengthOf(by: Timed): number {
  return Math.round(timedParts.reduce((sum, part) => sum + (by[part] ?? 0), 0) * 100) / 100;
}

/** The parts of a transition on one line of time, each with its share. */
export function spansOf(by: Timed): { part: TimedPart; share: number }[] {
  const total = lengthOf(by) || 1;
  return timedParts.map((part) => ({ part, share: (by[part] ?? 0) / total }));
}

/** "fading over 0.5 s", "after 2 s". */
export function transitionWords(by: Timed): string {
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
