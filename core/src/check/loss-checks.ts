/** Suspicions about losses, as notes: where a loss leads, and what is kept through it. */
import { levelsOfOwner, own, targetsOf, type FlowDocument, type Id, type Target } from '../document/types.ts';
import { variablesIn } from '../language/ast.ts';
import type { FittingRule } from '../play/fit.ts';
import type { Flow } from '../play/flow.ts';
import type { Verdict } from '../report/report.ts';
import { placeName } from '../words/words.ts';
import { plain, ruleNamed } from './verdict.ts';

/** Where a loss leads: levels, back into the lost one (by `again` or a save), or out of the levels; and by which rules. */
export interface LossWay {
  levels: Set<Id>;
  back: boolean;
  out: boolean;
  /** The losing rule and those of interludes after it. */
  rules: FittingRule[];
}

/** Follows a losing rule through the interludes after it. */
export function wayOfLoss({ document, rules }: Flow, rule: FittingRule): LossWay {
  const way: LossWay = { levels: new Set(), back: false, out: false, rules: [] };
  const seen = new Set<Id>();
  const follow = (each: FittingRule) => {
    way.rules.push(each);
    for (const target of each.rule.go ? targetsOf(each.rule.go) : []) to(target);
  };
  const to = (target: Target) => {
    if ('move' in target) {
      if (target.move === 'again' || target.move === 'resume' || target.move === 'load') way.back = true;
      else if (target.move === 'first') firstOf(document, target.order).forEach((level) => way.levels.add(level));
      else way.out = true;
      return;
    }
    const place = own(document.places, target.place);
    if (place?.kind === 'level') way.levels.add(target.place);
    else if (place?.kind !== 'interlude' || target.over) way.out = true;
    else if (!seen.has(target.place)) {
      seen.add(target.place);
      place.rules.flatMap(({ id, go }) => (go && rules.get(id)) || []).forEach(follow);
    }
  };
  follow(rule);
  return way;
}

/** The level that a row begins with; where it is drawn it can be any. */
function firstOf({ orders }: FlowDocument, order: Id | undefined): Id[] {
  const named = order === undefined ? Object.values(orders) : [own(orders, order)];
  return named.flatMap((each) => (each ? (each.draw === 'fixed' ? each.levels.slice(0, 1) : each.levels) : []));
}

const levelsWith = ({ document }: Flow, { owner }: FittingRule): Id[] => levelsOfOwner(document, owner) ?? [];

const losing = (flow: Flow): FittingRule[] => [...flow.rules.values()].filter(({ rule }) => rule.result === 'lost');

/** A loss that always leads into another level than the one that was lost. */
export function lostElsewhere(flow: Flow): Verdict[] {
  const { document } = flow;
  return losing(flow).map((fitting) => {
    const { words, pointer } = ruleNamed(document, fitting.id);
    const { levels, back, out } = wayOfLoss(flow, fitting);
    const from = back || out || levels.size === 0 ? [] : levelsWith(flow, fitting).filter((id) => !levels.has(id));
    const [to] = levels;
    const where = from.length === 1 ? placeName(document, from[0]!) : `${from.length} levels`;
    return plain(
      'lost-elsewhere',
      fitting.id,
      from.length > 0
        ? `A loss in ${where} leads to ${placeName(document, to!)}, not back to the level that was lost.`
        : undefined,
      `The rule ${words} leads back to the level that was lost, or out of the levels.`,
      { pointer, ...(from.length > 0 && { why: [{ text: `The rule ${words} does so.`, rule: fitting.id, places: from }] }) }
    );
  });
}

/** A number of the run that a level raises, and that keeps what was gained when the level is lost and played again. */
export function gainsKept(flow: Flow): Verdict[] {
  const { document } = flow;
  const losses = losing(flow).map((fitting) => ({
    fitting,
    way: wayOfLoss(flow, fitting),
    in: levelsWith(flow, fitting)
  }));
  return Object.entries(document.variables).flatMap(([id, variable]) => {
    if (variable.type !== 'number' || variable.scope !== 'run') return [];
    const found = [...flow.rules.values()]
      .filter((each) => each.rule.result === undefined && raises(each, id))
      .flatMap((raising) =>
        levelsWith(flow, raising).flatMap((level) => {
          const loss = losses.find(
            ({ way, in: levels }) =>
              levels.includes(level) && (way.back || way.levels.has(level)) && !way.rules.some((rule) => setsBack(rule, id))
          );
          return loss && !setBackOnArrival(flow, level, id) ? [{ level, raising, loss }] : [];
        })
      );
    const levels = [...new Set(found.map(({ level }) => level))];
    const where = levels.length === 1 ? `${placeName(document, levels[0]!)} is` : `one of ${levels.length} levels is`;
    const why = [...new Set(found.flatMap(({ raising, loss }) => [raising.id, loss.fitting.id]))].map((rule) => ({
      text: `The rule ${ruleNamed(document, rule).words} ${
        found.some(({ raising }) => raising.id === rule) ? 'raises it' : 'leads back without resetting it'
      }.`,
      rule,
      places: levels
    }));
    return plain(
      'gain-kept',
      id,
      levels.length > 0 ? `${variable.name} keeps what was gained when ${where} lost and played again.` : undefined,
      `${variable.name} keeps nothing of a lost attempt.`,
      { pointer: `/variables/${id}`, ...(why.length > 0 && { why }) }
    );
  });
}

/** Whether a rule adds a positive number to a variable. */
function raises({ rule, expressions }: FittingRule, id: Id): boolean {
  return (rule.do ?? []).some((effect, index) => {
    const to = expressions[index];
    if (!('set' in effect) || effect.set !== id || to?.kind !== 'arithmetic' || to.operator !== '+') return false;
    const sides = [to.left, to.right];
    return (
      sides.some((side) => side.kind === 'variable' && side.id === id) &&
      sides.some((side) => side.kind === 'integer' && side.value > 0)
    );
  });
}

/** Whether a rule sets a variable to something that does not depend on what it was. */
function setsBack({ rule, expressions }: FittingRule, id: Id): boolean {
  return (rule.do ?? []).some(
    (effect, index) =>
      'begin' in effect ||
      'erase' in effect ||
      ('reset' in effect && effect.reset === id) ||
      ('set' in effect && effect.set === id && !variablesIn(expressions[index]!).includes(id))
  );
}

function setBackOnArrival(flow: Flow, level: Id, id: Id): boolean {
  return flow.applying(level, level).by.arrive.some((each) => !each.condition && setsBack(each, id));
}
