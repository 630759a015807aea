/** A JSON Pointer (RFC 6901) from its parts. */
export function pointerTo(path: readonly (string | number)[]): string {
  return path.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');
}

/** The parts of a JSON Pointer. */
export function partsOfPointer(pointer: string): string[] {
  return pointer
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'));
}
