import type { ParamMatcher } from '@sveltejs/kit';

const views = ['levels', 'values', 'trial', 'checks', 'plan'] as const;

/** The views of a flow besides the lane, which is its home. */
export const match = ((param): param is (typeof views)[number] =>
  (views as readonly string[]).includes(param)) satisfies ParamMatcher;
