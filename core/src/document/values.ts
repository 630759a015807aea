import { own, type Variable } from './types.ts';

/** What a value is called by players and designers: flags are yes or no, choices go by their labels. */
export function valueNamed(variable: Variable | undefined, value: number | boolean | string): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return String(value);
  const label = variable?.type === 'choice' ? own(variable.labels ?? {}, value) : undefined;
  return label ?? value.replaceAll('_', ' ');
}
