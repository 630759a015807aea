/**
 * The levels as a sheet: what each column shows of a level, and what typing into it changes. A cell's text is read in
 * the same form in which it is shown, so that what is copied from a sheet can be pasted back.
 */
import { idFrom } from '../document/edits/ids.ts';
import { idNamed } from '../document/ids.ts';
import { addGroup } from '../document/edits/lists.ts';
import { changePiece, removePiece } from '../document/edits/parts.ts';
import { fieldOperations, renamePlace, setPlaceField } from '../document/edits/places.ts';
import { addRule, changeRule, likelyRule } from '../document/edits/rules.ts';
import { secondsOf } from '../document/numbers.ts';
import { change, Series, together, type Change } from '../document/patch.ts';
import { levelsOf, own, type FlowDocument, type Id, type Level, type Piece, type Rule } from '../document/types.ts';
import { rulesReadIn } from '../play/reading.ts';
import { goalWords, targetWords, triggerWords, standingWords } from '../words/words.ts';
import { countOf } from '../vocabulary/pieces.ts';
import { stroke, type Stroke } from './strokes.ts';
import { lostTyped, targetTyped, wonTyped } from './typed.ts';

export interface Column {
  key: string;
  title: string;
  kind: 'text' | 'number' | 'words';
  read(document: FlowDocument, level: Id): string;
  /** What typing does; a text instead says why it cannot be. Missing where nothing can be typed. */
  write?(document: FlowDocument, level: Id, text: string): Change | string;
}

/** The columns of a document: the same for every level, with one for each piece that some level has. */
export function columnsOf(document: FlowDocument): Column[] {
  const asked = levelsOf(document).some(([, { objectives: asks }]) => Object.keys(asks).length > 0) ? [objectives] : [];
  const where = levelsOf(document).some(([, { spots }]) => Object.keys(spots).length > 0) ? [standing] : [];
  const numbers = [...pieceColumns(document), ...where, deadline, entries, checkpoints, progress, ...measures];
  return [name, group, brief, ...asked, won, lost, next, ...numbers];
}

const level = (document: FlowDocument, id: Id) => document.places[id] as Level;

const name: Column = {
  key: 'name',
  title: 'Name',
  kind: 'text',
  read: (document, id) => level(document, id).name,
  write: (document, id, text) => {
    if (text === '') return 'A level has a name.';
    return text.length > 80 ? 'A name has at most 80 letters.' : renamePlace(document, id, text);
  }
};

const group: Column = {
  key: 'group',
  title: 'Group',
  kind: 'text',
  read: (document, id) => own(document.groups, level(document, id).group ?? '')?.name ?? '',
  write: (document, id, text) => {
    if (text === '') return setPlaceField(document, id, 'group', undefined);
    if (text.length > 80) return 'A name has at most 80 letters.';
    const known = idNamed(document.groups, text);
    if (known !== undefined) return setPlaceField(document, id, 'group', known);
    const { id: made, ...added } = addGroup(document, text);
    return together(
      document,
      `${level(document, id).name}: group ${text}`,
      () => added,
      (now) => setPlaceField(now, id, 'group', made)
    );
  }
};

const brief: Column = {
  key: 'brief',
  title: 'Brief',
  kind: 'text',
  read: (document, id) => (level(document, id).brief ?? '').replaceAll(/\s*\n\s*/g, ' '),
  write: (document, id, text) =>
    text.length > 4000 ? 'A note has at most 4,000 letters.' : setPlaceField(document, id, 'brief', text || undefined)
};

/** What is needed is marked; it is changed on the desk, where its conditions are. */
const objectives: Column = {
  key: 'objectives',
  title: 'Objectives',
  kind: 'words',
  read: (document, id) =>
    Object.values(level(document, id).objectives)
      .map(({ text, needed }) => `${text}${needed ? ' (needed)' : ''}`)
      .join('; ')
};

const won: Column = {
  key: 'won',
  title: 'Won by',
  kind: 'text',
  read: (document, id) => goalWords(document, id),
  write: (document, id, text) =>
    level(document, id).goal === 'leave'
      ? 'It is completed by leaving it: say on the desk that it is won.'
      : written(document, id, 'won', wonTyped(document, id, text), 'Write it as “Lamp × 7”, “reach Exit” or “last 20 s”.')
};

const lost: Column = {
  key: 'lost',
  title: 'Lost by',
  kind: 'text',
  write: (document, id, text) =>
    written(document, id, 'lost', lostTyped(document, id, text), 'Write it as “touch Gust” or “20 s”.'),
  read: (document, id) =>
    unique(
      rulesReadIn(document, id)
        .filter(({ rule }) => rule.result === 'lost')
        .map(({ owner, rule }) => triggerWords(document, owner, rule).replace(/^(when|once|after) /, ''))
    )
};

/** Says how a level is won or lost by one rule of its own; where it leads stays. */
function written(
  document: FlowDocument,
  id: Id,
  result: 'won' | 'lost',
  how: Stroke | undefined,
  otherwise: string
): Change | string {
  const rules = ownRules(document, id, result);
  if (typeof rules === 'string') return rules;
  if (rules.length > 1) return `It has several rules by which it is ${result}: change them on the desk.`;
  if (!how) return otherwise;
  return stroke(document, [id], result, how, rules[0]?.go ?? likelyRule(document, id, result).go!, true);
}

/** The rules of a level's own with a result; why they cannot be changed here where those that it shares have it. */
function ownRules(document: FlowDocument, id: Id, result: 'won' | 'lost'): Rule[] | string {
  const all = rulesReadIn(document, id).filter(({ rule }) => rule.result === result);
  return all.some(({ shared }) => shared)
    ? `It is ${result} by a rule that levels share: change it on the desk.`
    : all.map(({ rule }) => rule);
}

const next: Column = {
  key: 'next',
  title: 'Next',
  kind: 'text',
  write: (document, id, text) => {
    const rules = ownRules(document, id, 'won');
    if (typeof rules === 'string') return rules;
    const go = targetTyped(document, text);
    if (!go) return `There is no place “${text}”. Write a name, or “the next level, or The end”.`;
    if (rules.length === 0) return addRule(document, { place: id }, { ...likelyRule(document, id, 'won'), go });
    const label = `${level(document, id).name}: next ${text}`;
    return together(
      document,
      label,
      ...rules.map(
        ({ id: rule, ...rest }) =>
          (now: FlowDocument) =>
            changeRule(now, rule, { ...rest, go })
      )
    );
  },
  read: (document, id) =>
    unique(
      rulesReadIn(document, id)
        .filter(({ rule }) => rule.result === 'won')
        .map(({ rule }) => targetWords(document, rule.go!))
    )
};

const unique = (texts: string[]) => [...new Set(texts)].join('; ');

/** One column for each piece, under its most usual name; most used first. */
function pieceColumns(document: FlowDocument): Column[] {
  const known = new Map<Id, { piece: Piece; levels: number }>();
  for (const [, { pieces }] of levelsOf(document)) {
    for (const [id, piece] of Object.entries(pieces)) {
      const found = known.get(id);
      if (found) found.levels++;
      else known.set(id, { piece, levels: 1 });
    }
  }
  return [...known].sort(([, a], [, b]) => b.levels - a.levels).map(([id, { piece }]) => pieceColumn(id, piece));
}

function pieceColumn(piece: Id, usual: Piece): Column {
  return {
    key: `piece ${piece}`,
    title: usual.name,
    kind: 'number',
    read: (document, id) => {
      const found = own(level(document, id).pieces, piece);
      return found ? String(countOf(found)) : '';
    },
    write: (document, id, text) => {
      const found = own(level(document, id).pieces, piece);
      if (text === '' || text === '0') return found ? removePiece(document, id, piece) : nothing(document);
      const count = whole(text, 1, 10_000);
      if (typeof count === 'string') return count;
      if (found)
        return changePiece(document, id, piece, {
          count: count === 1 && found.count === undefined && found.at === undefined ? undefined : count
        });
      const made: Piece = { name: usual.name, kind: usual.kind, ...(count === 1 ? {} : { count }) };
      // its id is that of the others, so that shared rules about it work here too
      if (usual.renew) made.renew = usual.renew;
      return change(document, `${level(document, id).name}: add ${usual.name}`, [
        { op: 'add', path: `/places/${id}/pieces/${piece}`, value: made }
      ]);
    }
  };
}

/** A column for pieces that no level has yet, as a file from elsewhere may count them. */
export function newPieceColumn(document: FlowDocument, title: string): Column {
  const taken = Object.assign({}, ...levelsOf(document).map(([, { pieces }]) => pieces)) as Record<Id, Piece>;
  return pieceColumn(idFrom(title, taken, 'piece'), { name: title, kind: 'pickup' });
}

/** A column whose cells are added to the notes on a level, each after its title. */
export function noteColumn(title: string): Column {
  return {
    key: `note ${title}`,
    title,
    kind: 'text',
    read: () => '',
    write: (document, id, text) =>
      text === ''
        ? nothing(document)
        : brief.write!(document, id, [level(document, id).brief, `${title}: ${text}`].filter(Boolean).join('\n'))
  };
}

const deadline: Column = {
  key: 'deadline',
  title: 'Deadline (s)',
  kind: 'number',
  read: (document, id) => {
    const found = rulesReadIn(document, id).flatMap(({ rule }) =>
      'after' in rule.when ? (secondsOf(document, rule.when.after) ?? []) : []
    );
    return [...new Set(found)].sort((a, b) => a - b).join(', ');
  },
  write: (document, id, text) => {
    const rules = level(document, id).rules.filter((rule) => 'after' in rule.when);
    if (rules.length > 1) return 'It has several deadlines: change them in its rules.';
    const [rule] = rules;
    if (text === '') return rule ? 'Delete its rule on the desk: it may do more than wait.' : nothing(document);
    const seconds = decimal(text, 86_400);
    if (typeof seconds === 'string' || seconds === 0) return 'A deadline is a number of seconds above 0.';
    if (rule) {
      const { id: ruleId, ...rest } = rule;
      return changeRule(document, ruleId, { ...rest, when: { after: seconds } }, `${level(document, id).name}: ${seconds} s`);
    }
    return addRule(document, { place: id }, { ...likelyRule(document, id, 'lost'), when: { after: seconds } });
  }
};

const entries: Column = {
  key: 'entries',
  title: 'Entries',
  kind: 'words',
  read: (document, id) => String(Math.max(1, Object.keys(level(document, id).entries).length))
};

/** What stands at which spot: "Lamp: Yard 4, Loft 3". */
const standing: Column = {
  key: 'standing',
  title: 'Where things are',
  kind: 'words',
  read: (document, id) =>
    Object.values(level(document, id).pieces)
      .filter(({ at }) => at !== undefined)
      .map((piece) => `${piece.name}: ${standingWords(document, id, piece)}`)
      .join('; ')
};

const checkpoints: Column = {
  key: 'checkpoints',
  title: 'Checkpoints',
  kind: 'words',
  read: (document, id) => {
    const found = Object.values(level(document, id).pieces).filter(({ kind }) => kind === 'checkpoint');
    return found.length === 0 ? '' : String(found.length);
  }
};

const progress: Column = {
  key: 'progress',
  title: 'Progress',
  kind: 'number',
  read: (document, id) => String(level(document, id).progress ?? ''),
  write: (document, id, text) => {
    if (text === '') return setPlaceField(document, id, 'progress', undefined);
    const value = whole(text, 0, 100);
    return typeof value === 'string' ? value : setPlaceField(document, id, 'progress', value);
  }
};

/** What is expected of a level and what it costs: each a number in an object of the level's. */
const measures: Column[] = [
  measure('estimate', 'seconds', 'Takes (s)', 1),
  measure('estimate', 'chance', 'Chance to win (%)', 100),
  measure('load', 'megabytes', 'Load (MB)', 1),
  measure('load', 'seconds', 'Load (s)', 1)
];

function measure(field: 'estimate' | 'load', key: 'seconds' | 'chance' | 'megabytes', title: string, times: number): Column {
  const of = (document: FlowDocument, id: Id) => level(document, id)[field] as Record<string, number | undefined> | undefined;
  return {
    key: `${field} ${key}`,
    title,
    kind: 'number',
    read: (document, id) => {
      const value = of(document, id)?.[key];
      return value === undefined ? '' : String(Number((value * times).toPrecision(12)));
    },
    write: (document, id, text) => {
      const value = text === '' ? undefined : decimal(text, key === 'chance' ? 100 : 1e6);
      if (typeof value === 'string') return value;
      const before = of(document, id);
      const { [key]: _old, ...rest } = before ?? {};
      const after = value === undefined ? rest : { ...rest, [key]: value / times };
      return change(
        document,
        `${level(document, id).name}: ${title.toLowerCase()} ${text || 'not said'}`,
        fieldOperations(`/places/${id}/${field}`, before, Object.keys(after).length === 0 ? undefined : after)
      );
    }
  };
}

const nothing = (document: FlowDocument) => change(document, 'Nothing', []);

function whole(text: string, min: number, max: number): number | string {
  const value = Number(text);
  return /^\d+$/.test(text) && value >= min && value <= max ? value : `Enter a whole number from ${min} to ${max}.`;
}

/** A number as people write it: with a point or, in many countries, a comma. */
function decimal(text: string, max: number): number | string {
  const plain = text.replace(',', '.').replace(/ ?(s|MB|%)$/, '');
  const value = Number(plain);
  return /^\d+(\.\d+)?$/.test(plain) && value <= max ? value : `Enter a number from 0 to ${max}.`;
}

/** One cell to be written. */
export interface CellEntry {
  level: Id;
  column: string;
  text: string;
}

export interface Refusal extends CellEntry {
  reason: string;
}

/** Writes many cells as one edit, also of columns that the sheet has not yet. What cannot be is left as it was and told; the rest is written all the same. */
export function writeCells(
  document: FlowDocument,
  cells: CellEntry[],
  more: Column[] = []
): { change: Change; refused: Refusal[] } {
  const refused: Refusal[] = [];
  const labels: string[] = [];
  const columns = new Map([...columnsOf(document), ...more].map((column) => [column.key, column]));
  const series = new Series(document);
  for (const cell of cells) {
    const column = columns.get(cell.column);
    const text = cell.text.trim();
    if (!column || column.read(series.now, cell.level) === text) continue;
    const made = column.write ? column.write(series.now, cell.level, text) : `${column.title} is worked out from the rules.`;
    if (typeof made === 'string') {
      refused.push({ ...cell, reason: made });
      continue;
    }
    if (made.patch.length === 0) continue;
    series.make(made);
    labels.push(made.label);
  }
  const label = labels.length === 1 ? labels[0]! : `Change ${labels.length} cells of the levels`;
  return { change: series.whole(label), refused };
}
