/** Shortens a text to at most `most` UTF-16 units, as lengths are counted in the schema, never within a character. */
export function cut(text: string, most: number): string {
  if (text.length <= most) return text;
  const last = text.charCodeAt(most - 1);
  // the first half of a surrogate pair is no character
  return text.slice(0, last >= 0xd800 && last <= 0xdbff ? most - 1 : most);
}
