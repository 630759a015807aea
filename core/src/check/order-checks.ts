/** The checks of orders and of what levels cost: they read the document only. */
import { patternOf } from '../document/edits/levels.ts';
import type { Id } from '../document/types.ts';
import type { Flow } from '../play/flow.ts';
import { loadRows, unitOf } from '../sheet/loads.ts';
import { placeName } from '../words/words.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { plain } from './verdict.ts';

/** Names like "Level 4" that do not say the place at which a level stands. */
export function nameNumbers({ document }: Flow): Verdict[] {
  return Object.entries(document.orders).flatMap(([id, { name, draw }]) => {
    const found = draw === 'fixed' ? patternOf(document, id) : undefined;
    if (!found) return [];
    const wrong = found.levels.filter(({ said, number }) => said !== number);
    const why = wrong.map(({ level, number }) => ({
      text: `${placeName(document, level)} is number ${number}.`,
      places: [level]
    }));
    const failing =
      wrong.length > 0 ? `${name}: ${why[0]!.text.slice(0, -1)} of the order, but its name says otherwise.` : undefined;
    return [
      plain('name-number', id, failing, `The numbers in the names of ${name} are those of the order.`, {
        pointer: `/orders/${id}`,
        ...(failing ? { why } : {})
      })
    ];
  });
}

/** What the levels of a group cost to load all together, against the limit that the designer has set. */
export function loads({ document }: Flow): Verdict[] {
  const asked = loadRows(document).filter(({ most }) => Object.keys(most).length > 0);
  return asked.map(({ of, id, name, sum, most, over }) => {
    const said = over.map((what) => `${sum[what]} ${unitOf[what]} of at most ${most[what]} ${unitOf[what]}`).join(' and ');
    const [subject, pointer, who] = {
      whole: ['flow', '/limit/whole', 'All places together load'],
      group: [id!, `/groups/${id}`, `The levels of ${name} load`],
      place: [`place/${id}`, `/places/${id}`, `${name} loads`]
    }[of] as [string, string, string];
    return plain('load-limit', subject, over.length > 0 ? `${who} ${said}.` : undefined, `${who} within the limit.`, {
      pointer
    });
  });
}

/** Whether the rows of tables are complete, and whether drawn orders are rarely alike. */
export function orders({ document }: Flow): Verdict[] {
  return Object.entries(document.orders).flatMap(([id, order]) => {
    if (order.draw === 'fixed') return [];
    const pointer = `/orders/${id}`;
    const found: Verdict[] = [];
    if (order.draw === 'table') {
      const why: Reason[] = order.rows.flatMap((row, index) => {
        const twice = [...new Set(row.filter((level, at) => row.indexOf(level) !== at))];
        const missing = order.levels.filter((level) => !row.includes(level));
        const foreign = row.filter((level) => !order.levels.includes(level));
        const names = (ids: Id[]) => ids.map((level) => placeName(document, level)).join(', ');
        const said = [
          twice.length ? `has ${names(twice)} more than once` : '',
          missing.length ? `leaves out ${names(missing)}` : '',
          foreign.length ? `adds ${names(foreign)}` : ''
        ];
        const text = said.filter(Boolean).join(', ');
        return text ? [{ text: `Row ${index + 1} ${text}.` }] : [];
      });
      const failing =
        why.length > 0
          ? `${order.name}: ${why.length === 1 ? 'one row is' : `${why.length} rows are`} not a complete round.`
          : undefined;
      found.push(
        plain('order-complete', id, failing, `Every row of ${order.name} has each level once.`, {
          pointer,
          ...(failing ? { why } : {})
        })
      );
    }
    // n! of more than three levels is above ten
    const chances = order.draw === 'table' ? order.rows.length : [1, 1, 2, 6][order.levels.length];
    const failing =
      chances !== undefined && chances < 10 ? `${order.name} repeats itself in the next run 1 time in ${chances}.` : undefined;
    found.push(plain('order-repeats', id, failing, `${order.name} rarely repeats itself in the next run.`, { pointer }));
    return found;
  });
}
