/** Thrown wherever a request turns out to be one that is refused. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly rest: Record<string, unknown> = {}
  ) {
    super(title);
  }
}
