/**
 * Lists of names that are met again and again, as numbers; 0 is the empty one. What has to hold on a way, in no order, or the
 * pieces that are touched on it, in the order met, each once.
 */
export class Lists {
  private readonly found: string[][] = [[]];
  private readonly numbers = new Map<string, number>([['[]', 0]]);
  private readonly joined = new Map<number, number>();
  private readonly within = new Map<number, boolean>();

  constructor(private readonly inOrder: boolean) {}

  of(names: readonly string[]): number {
    if (names.length === 0) return 0;
    const tidy = [...new Set(names)];
    if (!this.inOrder) tidy.sort();
    const key = JSON.stringify(tidy);
    let number = this.numbers.get(key);
    if (number === undefined) {
      number = this.found.push(tidy) - 1;
      this.numbers.set(key, number);
    }
    return number;
  }

  names(number: number): readonly string[] {
    return this.found[number]!;
  }

  /** One and then the other. */
  both(one: number, other: number): number {
    if (one === 0 || one === other) return other;
    if (other === 0) return one;
    const key = one * most + other;
    let number = this.joined.get(key);
    if (number === undefined) {
      number = this.of([...this.found[one]!, ...this.found[other]!]);
      this.joined.set(key, number);
    }
    return number;
  }

  /** Whether all names of one are names of the other. */
  isWithin(one: number, other: number): boolean {
    if (one === 0 || one === other) return true;
    if (other === 0) return false;
    const key = one * most + other;
    let is = this.within.get(key);
    if (is === undefined) {
      const names = this.found[other]!;
      is = this.found[one]!.every((each) => names.includes(each));
      this.within.set(key, is);
    }
    return is;
  }
}

/** More lists than a plan can come to. */
const most = 2 ** 26;
