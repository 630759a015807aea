/** Which level answers which trigger: a table of the levels of a group, its blanks what a level ignores. */
import { likelyRule, type NewRule } from '../document/edits/rules.ts';
import { own, type FlowDocument, type Id, type Level, type Rule, type Trigger } from '../document/types.ts';
import { rulesReadIn } from '../play/reading.ts';
import { canHappenTo, waitsFor } from '../vocabulary/triggers.ts';
import { triggerWords } from '../words/words.ts';

export interface AnswerRow {
  /** What happens, as one trigger; two rows never have the same. */
  trigger: Trigger;
  /** The name of the piece, or the label of the button. */
  what: string;
}

export type RuleAnswer =
  /** A rule of the level's own or a shared one answers. */
  | { is: 'answered'; rules: { rule: Rule; shared: boolean }[] }
  /** It happens in this level, and no rule listens. */
  | { is: 'blank' }
  /** It cannot happen here: the level has no such piece. */
  | { is: 'absent' };

/** The rows for some levels: what can happen to their pieces by itself, and the buttons that any of them listens to. */
export function answerRows(document: FlowDocument, levels: Id[]): AnswerRow[] {
  const rows = new Map<string, AnswerRow>();
  const add = (trigger: Trigger, what: string) => rows.set(JSON.stringify(trigger), { trigger, what });
  for (const id of levels) {
    for (const [piece, { name, kind }] of Object.entries((document.places[id] as Level).pieces))
      if (canHappenTo('touch', kind) && !rows.has(JSON.stringify({ touch: piece }))) add({ touch: piece }, name);
    for (const { rule } of rulesReadIn(document, id)) {
      const { when } = rule;
      if ('side' in when && !rows.has(JSON.stringify(when)))
        add(when, triggerWords(document, { place: id }, rule).replace(/^when /, ''));
      if ('press' in when && !rows.has(JSON.stringify({ press: when.press }))) add({ press: when.press }, when.press);
    }
  }
  return [...rows.values()];
}

/** How a level answers a trigger. */
export function answerOf(document: FlowDocument, level: Id, { trigger }: AnswerRow): RuleAnswer {
  const wanted = JSON.stringify('press' in trigger ? { press: trigger.press } : trigger);
  const rules = rulesReadIn(document, level).filter(({ rule: { when } }) =>
    'touch' in trigger ? waitsFor(when, trigger) : JSON.stringify('press' in when ? { press: when.press } : when) === wanted
  );
  if (rules.length > 0) return { is: 'answered', rules: rules.map(({ rule, shared }) => ({ rule, shared })) };
  if ('touch' in trigger && !own((document.places[level] as Level).pieces, trigger.touch)) return { is: 'absent' };
  return { is: 'blank' };
}

/** The rule that fills a blank: as most other levels answer this trigger, else as its piece suggests. */
export function fillingRule(document: FlowDocument, level: Id, row: AnswerRow, others: Id[]): NewRule {
  const known = new Map<string, { rule: NewRule; count: number }>();
  for (const other of others) {
    const answer = answerOf(document, other, row);
    if (answer.is !== 'answered') continue;
    for (const { rule, shared } of answer.rules) {
      if (shared) continue;
      const { id: _id, ...rest } = rule;
      const key = JSON.stringify(rest);
      known.set(key, { rule: rest, count: (known.get(key)?.count ?? 0) + 1 });
    }
  }
  const [usual] = [...known.values()].sort((a, b) => b.count - a.count);
  if (usual) return usual.rule;
  const kind = 'touch' in row.trigger ? own((document.places[level] as Level).pieces, row.trigger.touch)?.kind : undefined;
  if (kind === 'exit') return { ...likelyRule(document, level, 'won'), when: row.trigger };
  if (kind === 'hazard' || kind === 'foe') return { ...likelyRule(document, level, 'lost'), when: row.trigger };
  return kind === 'checkpoint' ? { when: row.trigger, do: [{ save: 'forward' }] } : { when: row.trigger };
}
