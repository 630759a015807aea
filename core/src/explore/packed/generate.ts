/**
 * Functions made from generated text. The text holds numbers and names of ours alone, never a document's text, so that
 * nothing a document says can run. The same text gives the same function again: a flow that is checked once more after
 * a small edit finds most of its code warm.
 */
const made = new Map<string, unknown>();
const most = 20_000;

/** The function with these parameters and this body; another one for each `of`, so that what it calls becomes part of it. */
export function generate<T>(parameters: string, body: string, of = ''): T {
  const key = `${parameters}\n${body}\n${of}`;
  let found = made.get(key);
  if (!found) {
    if (made.size >= most) made.clear();
    made.set(key, (found = new Function(parameters, body)));
  }
  return found as T;
}
