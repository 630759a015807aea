/** The checks that read the document only (docs/flow-format.md, section 6, second list). */
import { countOf, findRule, isLevel, usedUp, type FlowDocument, type Id, type Target } from '../document/types.ts';
import { targetsOf } from '../document/edits/places.ts';
import { parts, piecesIn, variablesIn, type Comparison, type Expression } from '../language/ast.ts';
import { compare } from '../language/evaluate.ts';
import { print } from '../language/print.ts';
import { targetMisfit, type FittingRule } from '../play/fit.ts';
import type { Flow } from '../play/flow.ts';
import { placeName, plural, ruleWords } from '../words/words.ts';
import { rulesTo } from './reasons.ts';
import type { CheckName, Reason, Verdict } from './report.ts';
import { ruleNamed, verdict } from './verdict.ts';

/** All verdicts of the document checks but `reference` and `condition`. */
export function documentChecks(flow: Flow): Verdict[] {
  return [
    ...misfits(flow),
    ...signals(flow),
    ...piecesHandled(flow),
    ...entriesUsed(flow),
    ...waysBack(flow),
    ...orders(flow),
    ...goals(flow),
    ...variablesUsed(flow),
    ...namesUnique(flow),
    ...overtakenDeadlines(flow),
    ...rulesHidden(flow),
    ...numbersSkipped(flow),
    ...waitsTooShort(flow)
  ];
}

/** `reference` and `condition`: only failing verdicts, one a subject, its further misfits among the reasons. */
function misfits(flow: Flow): Verdict[] {
  const verdicts = new Map<string, Verdict>();
  for (const { check: name, subject, message, pointer, column } of flow.misfits) {
    const key = `${name} ${subject}`;
    const known = verdicts.get(key);
    if (known) known.why = [...(known.why ?? []), { text: message }];
    else verdicts.set(key, verdict(name, subject, 'fails', misfitWords(flow.document, subject, message), { pointer, column }));
  }
  return [...verdicts.values()];
}

/** A misfit of a rule says first which rule it is. */
function misfitWords(document: FlowDocument, subject: string, message: string): string {
  const found = findRule(document, subject.replace(/^rule\//, ''));
  return found ? `The rule ${ruleWords(document, found.owner, found.rule)} does not fit: ${message}` : message;
}

/** A verdict of a check that has something to say only when it fails. */
function plain(name: CheckName, subject: string, failing: string | undefined, holding: string, rest: Partial<Verdict>): Verdict {
  return verdict(name, subject, failing === undefined ? 'holds' : 'fails', failing ?? holding, rest);
}

function signals({ document, rules }: Flow): Verdict[] {
  const raised = new Set<Id>();
  const heard = new Set<Id>();
  for (const { rule } of rules.values()) {
    if ('hear' in rule.when) heard.add(rule.when.hear);
    for (const effect of rule.do ?? []) if ('raise' in effect) raised.add(effect.raise);
  }
  return Object.entries(document.signals).flatMap(([id, { name }]) => {
    const pointer = `/signals/${id}`;
    const [up, down] = [raised.has(id), heard.has(id)];
    return [
      plain(
        'signal-heard',
        id,
        up && !down ? `${name} is raised, but no rule hears it.` : undefined,
        `${name} is heard wherever it is raised.`,
        { pointer }
      ),
      plain(
        'signal-raised',
        id,
        down && !up ? `A rule waits for ${name}, but nothing raises it.` : undefined,
        `${name} is raised for who hears it.`,
        { pointer }
      )
    ];
  });
}

function piecesHandled(flow: Flow): Verdict[] {
  return flow.levels.flatMap(([id, level]) => {
    const handled = new Set(flow.applying(id, id).all.flatMap(piecesAsked));
    return Object.entries(level.pieces).map(([piece, { name }]) =>
      plain(
        'piece-handled',
        `${id}/${piece}`,
        handled.has(piece) ? undefined : `${name} is in ${level.name}, but no rule there asks for it.`,
        `A rule in ${level.name} asks for ${name}.`,
        { pointer: `/places/${id}/pieces/${piece}` }
      )
    );
  });
}

/** The pieces in a rule's trigger and conditions. */
function piecesAsked({ rule: { when }, condition, holds }: FittingRule): Id[] {
  const touched = 'touch' in when ? [when.touch] : 'collect' in when ? [when.collect] : 'defeat' in when ? [when.defeat] : [];
  return [...touched, ...[condition, holds].flatMap((text) => (text ? piecesIn(text) : []))];
}

/** The targets of a rule that can resolve. */
function goodTargets({ document }: Flow, { rule }: FittingRule): Target[] {
  return rule.go ? targetsOf(rule.go).filter((target) => !targetMisfit(document, target, '')) : [];
}

function entriesUsed(flow: Flow): Verdict[] {
  const { document } = flow;
  const targets = [...flow.rules.values()].flatMap((rule) => goodTargets(flow, rule));
  return flow.levels.flatMap(([id, level]) => {
    const visited = document.start === id || rulesTo(document, id).length > 0;
    return Object.entries(level.entries).map(([entry, { name }], index) => {
      const named = targets.some((target) => target.entry === entry && (!('place' in target) || target.place === id));
      const used = named || (index === 0 && visited) || level.pieces[entry]?.kind === 'checkpoint';
      return plain(
        'entry-used',
        `${id}/${entry}`,
        used ? undefined : `Nobody enters ${level.name} at ${name}.`,
        `${name} of ${level.name} is used.`,
        {
          pointer: `/places/${id}/entries/${entry}`
        }
      );
    });
  });
}

function waysBack(flow: Flow): Verdict[] {
  const { document } = flow;
  const leads = new Map(
    flow.levels.map(([id]) => {
      const to = flow
        .applying(id, id)
        .all.flatMap((rule) => goodTargets(flow, rule).flatMap((target) => ('place' in target ? [target.place] : [])));
      return [id, new Set(to.filter((place) => place !== id && isLevel(document, place)))];
    })
  );
  return flow.levels.map(([id, level]) => {
    const oneWay = [...leads.get(id)!].filter((other) => !leads.get(other)!.has(id));
    const failing =
      oneWay.length > 0
        ? `From ${level.name} one comes to ${oneWay.map((other) => placeName(document, other)).join(', ')}, but not back.`
        : undefined;
    return plain('way-back', id, failing, `Wherever ${level.name} leads, there is a way back.`, {
      pointer: `/places/${id}`,
      ...(failing ? { why: [{ text: failing, places: oneWay }] } : {})
    });
  });
}

function orders({ document }: Flow): Verdict[] {
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
      chances !== undefined && chances < 10 ? `${order.name} is the same twice running in 1 of ${chances} cases.` : undefined;
    found.push(plain('order-repeats', id, failing, `${order.name} is rarely the same twice running.`, { pointer }));
    return found;
  });
}

/** A comparison of `left` or `taken` of a piece with a number, turned so that the piece stands left. */
interface PieceComparison {
  piece: Id;
  taken: boolean;
  operator: Comparison;
  literal: number | bigint;
  text: string;
}

const turned: Record<Comparison, Comparison> = { '=': '=', '!=': '!=', '<': '>', '<=': '>=', '>': '<', '>=': '<=' };

function pieceComparisons(expression: Expression): PieceComparison[] {
  return [...parts(expression)].flatMap((part) => {
    if (part.kind !== 'compare') return [];
    for (const [piece, other, operator] of [
      [part.left, part.right, part.operator],
      [part.right, part.left, turned[part.operator]]
    ] as const) {
      if (piece.kind !== 'left' && piece.kind !== 'taken') continue;
      const literal =
        other.kind === 'integer'
          ? other.value
          : other.kind === 'negative' && other.of.kind === 'integer'
            ? -other.of.value
            : undefined;
      if (literal !== undefined)
        return [{ piece: piece.piece, taken: piece.kind === 'taken', operator, literal, text: print(part) }];
    }
    return [];
  });
}

/** Whether a comparison is true while so many of `count` are left. */
function trueAt({ taken, operator, literal }: PieceComparison, left: number, count: number): boolean {
  return compare(operator, taken ? count - left : left, literal);
}

/** A comparison can only change its truth near its number or at the ends of the range, so only these are tried. */
function trials({ taken, literal }: PieceComparison, count: number): number[] {
  const near = taken ? count - Number(literal) : Number(literal);
  return [...new Set([0, count, 1, count - 1, near - 1, near, near + 1])].filter(
    (left) => Number.isInteger(left) && left >= 0 && left <= count
  );
}

function goals(flow: Flow): Verdict[] {
  const { document } = flow;
  const found: Verdict[] = [];
  const check = (
    subject: string,
    conditions: Expression[],
    levelsAsked: () => Id[],
    pointer: string,
    words: string,
    partial: Expression[]
  ) => {
    const comparisons = conditions.flatMap(pieceComparisons);
    const partials = partial.flatMap(pieceComparisons);
    if (comparisons.length + partials.length === 0) return;
    const levels = levelsAsked();
    const say = (comparison: PieceComparison, level: Id): Reason => {
      const { name, count } = pieceIn(document, level, comparison.piece);
      return {
        text: `“${comparison.text}”: ${placeName(document, level)} has ${count} ${plural(name, count)}.`,
        places: [level]
      };
    };
    const each = (list: PieceComparison[], bad: (comparison: PieceComparison, count: number) => boolean) =>
      list.flatMap((comparison) =>
        levels.flatMap((level) =>
          hasPiece(document, level, comparison.piece) && bad(comparison, pieceIn(document, level, comparison.piece).count)
            ? [say(comparison, level)]
            : []
        )
      );
    if (comparisons.length > 0) {
      const why = each(comparisons, (comparison, count) =>
        trials(comparison, count).every((left) => !trueAt(comparison, left, count))
      );
      found.push(
        plain(
          'goal-count',
          subject,
          why.length > 0 ? `${words} asks for a number that there never is.` : undefined,
          `${words} asks for numbers that there can be.`,
          { pointer, ...(why.length > 0 ? { why } : {}) }
        )
      );
    }
    if (partials.length > 0) {
      const why = each(partials, (comparison, count) =>
        trials(comparison, count).some((left) => left > 0 && trueAt(comparison, left, count))
      );
      found.push(
        plain(
          'goal-partial',
          subject,
          why.length > 0 ? `${words} is satisfied while some are left.` : undefined,
          `${words} wants all there are.`,
          { pointer, ...(why.length > 0 ? { why } : {}) }
        )
      );
    }
  };
  for (const rule of flow.rules.values()) {
    const conditions = [rule.holds, rule.condition].filter((text) => text !== undefined);
    const { words, pointer } = ruleNamed(document, rule.id);
    check(
      rule.id,
      conditions,
      () => levelsFor(flow, rule),
      pointer,
      `The rule ${words}`,
      rule.rule.result === 'won' ? conditions : []
    );
  }
  for (const { place, index, condition } of flow.expectations) {
    const levels = isLevel(document, place) ? [place] : flow.levels.map(([id]) => id);
    check(
      `${place}/${index}`,
      [condition],
      () => levels,
      `/places/${place}/expects/${index}`,
      `What ${placeName(document, place)} expects`,
      []
    );
  }
  return found;
}

function hasPiece(document: FlowDocument, level: Id, piece: Id): boolean {
  const place = document.places[level]!;
  return place.kind === 'level' && Object.hasOwn(place.pieces, piece) && usedUp(place.pieces[piece]!);
}

function pieceIn(document: FlowDocument, level: Id, id: Id): { name: string; count: number } {
  const piece = (document.places[level] as { pieces: Record<Id, Parameters<typeof countOf>[0]> }).pieces[id]!;
  return { name: piece.name, count: countOf(piece) };
}

/** The levels that can be at the bottom when a rule applies: of a level its own, else any over which the rule is read. */
function levelsFor(flow: Flow, { id, owner }: FittingRule): Id[] {
  if ('place' in owner && isLevel(flow.document, owner.place)) return [owner.place];
  return flow.levels
    .map(([level]) => level)
    .filter((level) => flow.applying('place' in owner ? owner.place : level, level).all.some((rule) => rule.id === id));
}

function variablesUsed({ document, rules, expectations }: Flow): Verdict[] {
  const read = new Set<Id>();
  const set = new Set<Id>();
  const note = (expression: Expression | undefined, besides?: Id) => {
    for (const id of expression ? variablesIn(expression) : []) if (id !== besides) read.add(id);
  };
  for (const { rule, condition, holds, expressions } of rules.values()) {
    note(condition);
    note(holds);
    rule.do?.forEach((effect, index) => {
      if (!('set' in effect)) return;
      set.add(effect.set);
      note(expressions[index], effect.set);
    });
  }
  for (const { condition } of expectations) note(condition);
  for (const { message } of Object.values(document.places))
    for (const [, id] of (message ?? '').matchAll(/\{([^{}]*)\}/g)) read.add(id!);
  return Object.entries(document.variables).map(([id, { name }]) => {
    const faults = [read.has(id) ? '' : 'never read', set.has(id) ? '' : 'never set'].filter(Boolean);
    return plain(
      'variable-used',
      id,
      faults.length > 0 ? `${name} is ${faults.join(' and ')}.` : undefined,
      `${name} is set and read.`,
      { pointer: `/variables/${id}` }
    );
  });
}

function namesUnique({ document }: Flow): Verdict[] {
  const first = new Map<string, Id>();
  return Object.entries(document.places).map(([id, { name }]) => {
    const earlier = first.get(name);
    if (earlier === undefined) first.set(name, id);
    return plain(
      'name-unique',
      id,
      earlier === undefined ? undefined : `Two places are called ${name}.`,
      `No earlier place is called ${name}.`,
      {
        pointer: `/places/${id}`,
        ...(earlier === undefined ? {} : { why: [{ text: 'The other one comes earlier.', places: [earlier] }] })
      }
    );
  });
}

/** A deadline after which the player is surely gone hides every later one. */
function overtakenDeadlines(flow: Flow): Verdict[] {
  const { document } = flow;
  return [...flow.rules.values()].flatMap((rule) => {
    const { when } = rule.rule;
    if (!('after' in when)) return [];
    const { owner, id } = rule;
    const places =
      'place' in owner
        ? [owner.place]
        : flow.levels.map(([level]) => level).filter((level) => flow.applying(level, level).all.some((other) => other.id === id));
    const { words, pointer } = ruleNamed(document, id);
    const earlier = places.map((place) => {
      // over a level the same rules apply, save those that name pieces, which then only add to what leaves
      const bottom = place;
      return flow
        .applying(place, bottom)
        .by.after.find(
          (other) => (other.rule.when as { after: number }).after < when.after && !other.rule.if && surelyLeaves(flow, other)
        );
    });
    const failing = places.length > 0 && earlier.every((other) => other !== undefined);
    return plain(
      'overtaken-deadline',
      id,
      failing ? `The rule ${words} never comes to pass: the player has left before.` : undefined,
      `The rule ${words} can come to pass.`,
      {
        pointer,
        ...(failing
          ? { why: [{ text: `The rule ${ruleNamed(document, earlier[0]!.id).words} leaves earlier.`, rule: earlier[0]!.id }] }
          : {})
      }
    );
  });
}

/** Whether a rule that fires takes the player out of the place for good. */
function surelyLeaves({ document }: Flow, { rule, owner }: FittingRule): boolean {
  const sure = (target: Target | undefined): boolean => {
    if (!target || targetMisfit(document, target, '')) return false;
    if ('place' in target) return !target.over;
    // who is in a level has played one
    if (target.move === 'again') return !('place' in owner) || isLevel(document, owner.place);
    return target.move !== 'back' && sure(target.else);
  };
  return sure(rule.go);
}

/** The places in which a rule is read. */
function placesOf(flow: Flow, { id, owner }: FittingRule): Id[] {
  if ('place' in owner) return [owner.place];
  return flow.levels.map(([level]) => level).filter((level) => flow.applying(level, level).all.some((rule) => rule.id === id));
}

/** Two rules on one event, of which the first always leaves: the second can never be read. */
function rulesHidden(flow: Flow): Verdict[] {
  const { document } = flow;
  return [...flow.rules.values()].flatMap((rule) => {
    const { when } = rule.rule;
    // `holds` rules have each their own moment, and of choices only the one made is read
    if ('holds' in when || 'choose' in when) return [];
    const places = placesOf(flow, rule);
    const before = places.map((place) => {
      const { all } = flow.applying(place, place);
      const index = all.findIndex(({ id }) => id === rule.id);
      return all
        .slice(0, Math.max(0, index))
        .find((other) => !other.rule.if && sameTrigger(other.rule.when, when) && surelyLeaves(flow, other));
    });
    const first = before[0];
    const hidden = places.length > 0 && before.every((other) => other !== undefined);
    const { words, pointer } = ruleNamed(document, rule.id);
    return plain(
      'rule-hidden',
      rule.id,
      hidden ? `The rule ${words} can never be read: an earlier one always leaves.` : undefined,
      `The rule ${words} is not hidden by an earlier one.`,
      {
        pointer,
        ...(hidden
          ? { why: [{ text: `The rule ${ruleNamed(document, first!.id).words} is read before it.`, rule: first!.id }] }
          : {})
      }
    );
  });
}

function sameTrigger(a: object, b: object): boolean {
  const bare = (when: object) => JSON.stringify({ ...when, key: undefined });
  return bare(a) === bare(b);
}

/** A counter compared by "=" while its steps are too large to be sure of meeting the number. */
function numbersSkipped(flow: Flow): Verdict[] {
  const { document } = flow;
  const steps = new Map<Id, number[]>();
  for (const { rule, expressions } of flow.rules.values()) {
    rule.do?.forEach((effect, index) => {
      const step = 'set' in effect ? stepOf(effect.set, expressions[index]!) : undefined;
      if (step) steps.set((effect as { set: Id }).set, [...(steps.get((effect as { set: Id }).set) ?? []), Math.abs(step)]);
    });
  }
  return [...flow.rules.values()].flatMap((rule) => {
    const compared = [rule.holds, rule.condition]
      .flatMap((text) => (text ? equalities(text) : []))
      .filter(({ id }) => steps.has(id));
    if (compared.length === 0) return [];
    const { words, pointer } = ruleNamed(document, rule.id);
    const why = compared.flatMap(({ id, value }): Reason[] => {
      const variable = document.variables[id]!;
      const sizes = [...new Set(steps.get(id))];
      const met = sizes.length === 1 && variable.type === 'number' && (value - variable.initial) % sizes[0]! === 0;
      return met
        ? []
        : [
            {
              text: `${variable.name} goes by ${sizes.sort((a, b) => a - b).join(' or ')} and can pass ${value} without being it; at least or at most would catch it.`
            }
          ];
    });
    return plain(
      'number-skipped',
      rule.id,
      why.length > 0 ? `The rule ${words} waits for a number that can be jumped over.` : undefined,
      `The rule ${words} meets its numbers.`,
      {
        pointer,
        ...(why.length > 0 ? { why } : {})
      }
    );
  });
}

/** The step by which an expression changes its own variable: 2 for "score + 2". */
function stepOf(variable: Id, expression: Expression): number | undefined {
  if (expression.kind !== 'arithmetic' || expression.operator === '*') return undefined;
  const { left, right, operator } = expression;
  if (left.kind !== 'variable' || left.id !== variable || right.kind !== 'integer') return undefined;
  return operator === '+' ? Number(right.value) : -Number(right.value);
}

function equalities(expression: Expression): { id: Id; value: number }[] {
  return [...parts(expression)].flatMap((part) => {
    if (part.kind !== 'compare' || part.operator !== '=') return [];
    const { left, right } = part;
    if (left.kind === 'variable' && right.kind === 'integer') return [{ id: left.id, value: Number(right.value) }];
    return right.kind === 'variable' && left.kind === 'integer' ? [{ id: right.id, value: Number(left.value) }] : [];
  });
}

/** A wait that is over before the transition that brought the player there has ended. */
function waitsTooShort(flow: Flow): Verdict[] {
  const { document } = flow;
  const longest = new Map<Id, { seconds: number; rule: Id }>();
  for (const rule of flow.rules.values()) {
    const seconds = rule.rule.by?.in ?? 0;
    for (const target of goodTargets(flow, rule)) {
      if ('place' in target && seconds > (longest.get(target.place)?.seconds ?? 0))
        longest.set(target.place, { seconds, rule: rule.id });
    }
  }
  return [...flow.rules.values()].flatMap((rule) => {
    const { when } = rule.rule;
    if (!('after' in when) || !('place' in rule.owner) || !rule.rule.go) return [];
    const { words, pointer } = ruleNamed(document, rule.id);
    const found = longest.get(rule.owner.place);
    const short = found !== undefined && when.after < found.seconds;
    return plain(
      'wait-too-short',
      rule.id,
      short ? `The rule ${words} leaves while the place is still fading in.` : undefined,
      `The rule ${words} waits until the place is seen.`,
      {
        pointer,
        ...(short
          ? {
              why: [
                {
                  text: `The rule ${ruleNamed(document, found.rule).words} takes ${found.seconds} s to show it.`,
                  rule: found.rule
                }
              ]
            }
          : {})
      }
    );
  });
}
