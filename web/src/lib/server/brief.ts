/** Answers that are known for a moment: what is asked at every request need not be asked of the database each time. */
import QuickLRU from 'quick-lru';

/** In milliseconds. */
const moment = 1000;
const known = new QuickLRU<string, Promise<unknown>>({ maxSize: 5000 });

/** The answer to a question, asked again when it was not asked within `lasts` milliseconds. */
export function briefly<T>(key: string, ask: () => Promise<T>, lasts = moment): Promise<T> {
  const found = known.get(key);
  if (found) return found as Promise<T>;
  const answer = ask();
  known.set(key, answer, { maxAge: lasts });
  // a failure is not an answer
  answer.catch(() => known.delete(key));
  return answer;
}

/** Forgets all answers: something was changed that they may rest on. What another server changes counts when they end. */
export const forgetAnswers = (): void => known.clear();
