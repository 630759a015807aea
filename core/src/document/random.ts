/** Random numbers that a seed repeats. */
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** Gives numbers from 0 up to 1, the same ones for the same seed (of which the lower 32 bits count). */
export function randomFrom(seed: number): () => number {
  const generator = xoroshiro128plus(seed | 0);
  return () => uniformFloat64(generator);
}
