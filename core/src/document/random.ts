/** Random numbers that a seed repeats. */
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { mersenne } from 'pure-rand/generator/mersenne';

/**
 * Gives numbers from 0 up to 1, the same ones for the same seed (of which the lower 32 bits count). Of seeds that follow each
 * other already the first numbers differ, which not every generator does.
 */
export function randomFrom(seed: number): () => number {
  const generator = mersenne(seed | 0);
  return () => uniformFloat64(generator);
}
