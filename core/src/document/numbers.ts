/** Named numbers, and exact sums with seconds. */
import { own, type FlowDocument, type Seconds, type Transition } from './types.ts';

/** How many seconds are meant; undefined where the named number is gone. */
export function secondsOf(document: FlowDocument, seconds: Seconds): number | undefined {
  return typeof seconds === 'number' ? seconds : own(document.numbers, seconds)?.value;
}

/** A transition whose seconds are numbers. */
export type Timed = Omit<Transition, TimedPart> & Partial<Record<TimedPart, number>>;
export const timedParts = ['wait', 'out', 'hold', 'in'] as const;
export type TimedPart = (typeof timedParts)[number];

/** A transition with the seconds that its named numbers say; those that are gone are none. */
export function timed(document: FlowDocument, by: Transition): Timed {
  const spans = timedParts.flatMap((part) => (by[part] === undefined ? [] : [[part, secondsOf(document, by[part])]]));
  return { ...by, ...(Object.fromEntries(spans) as Partial<Record<TimedPart, number>>) } as Timed;
}

/** How many times a span fits whole into another, both above 0, as decimals exactly: 0.1 fits three times into 0.3. */
export function timesIn(whole: number, span: number): number {
  const [a, b] = [decimal(whole), decimal(span)];
  const digits = Math.max(a.digits, b.digits);
  const scaled = ({ value, digits: own_ }: Decimal) => value * 10n ** BigInt(digits - own_);
  return Number(scaled(a) / scaled(b));
}

interface Decimal {
  value: bigint;
  digits: number;
}

function decimal(number: number): Decimal {
  const text = String(number);
  const [whole, part = ''] = (text.includes('e') ? number.toFixed(20) : text).split('.') as [string, string?];
  return { value: BigInt(whole + part), digits: part.length };
}
