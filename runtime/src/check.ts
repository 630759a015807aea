/** Proves a flow: every verdict, with its shortest route or the reason why not. */
export { check, type CheckOptions } from '@crow-lane/core/check/check';
export type { Report, Verdict } from '@crow-lane/core/report/report';
