/** A flow to begin with: one menu, where play begins. */
export function emptyFlow(name: string) {
  return { format: 'crow-lane', version: 1, name, start: 'title', places: { title: { name: 'Title', kind: 'menu' } } };
}
