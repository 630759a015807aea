/** Who edits: a name made up once for this browser. */
export function author(): string {
  try {
    const known = localStorage.getItem('author');
    if (known) return known;
    const made = `Designer ${crypto.randomUUID().slice(0, 4)}`;
    localStorage.setItem('author', made);
    return made;
  } catch {
    return 'Designer';
  }
}
