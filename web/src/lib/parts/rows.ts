import { createVirtualizer, defaultRangeExtractor } from '@tanstack/svelte-virtual';
import { get } from 'svelte/store';

/**
 * The rows of a long table that are in sight: a store of them, and the function that says how many there are and which
 * one is there always, as the one with the focus has to be.
 */
export function rowsInSight(box: () => HTMLElement | undefined, height: number) {
  let always = -1;
  const options = {
    getScrollElement: () => box() ?? null,
    estimateSize: () => height,
    overscan: 12,
    rangeExtractor: (range: Parameters<typeof defaultRangeExtractor>[0]) => {
      const found = defaultRangeExtractor(range);
      return always < 0 || always >= range.count || found.includes(always) ? found : [...found, always].sort((a, b) => a - b);
    }
  };
  const virtual = createVirtualizer<HTMLElement, HTMLElement>({ count: 0, ...options });
  return {
    virtual,
    /** To be called from an effect. It does not follow the store: that would be to follow what it sets. */
    count(count: number, focused = -1) {
      always = focused;
      if (box()) get(virtual).setOptions({ count, ...options });
    }
  };
}
