/** Something cannot be played: what, and why, with the values that it was asked with. */
export class PlayError extends Error {
  override name = 'PlayError';
}
