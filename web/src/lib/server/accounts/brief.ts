/**
 * What is asked at every request, known for a moment: who a cookie stands for, and what they may do. A change made at this
 * server counts at once; one that was made at another a second later.
 */

/** In milliseconds. */
const moment = 1000;
const most = 5000;
const known = new Map<string, { until: number; answer: Promise<unknown> }>();

/** The answer to a question, asked again when it was not asked within the last second. */
export function briefly<T>(key: string, ask: () => Promise<T>): Promise<T> {
  const at = performance.now();
  const found = known.get(key);
  if (found && found.until > at) return found.answer as Promise<T>;
  if (known.size >= most) known.clear();
  const answer = ask();
  known.set(key, { until: at + moment, answer });
  // a failure is not an answer
  answer.catch(() => known.delete(key));
  return answer;
}

/** Forgets all answers: something was changed that they may rest on. */
export const forgetAnswers = (): void => known.clear();
