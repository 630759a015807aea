/**
 * Parts of a flow that can be explored apart. What moves the player, and all that this depends on, is in every part;
 * values and pieces that nothing of it reads are in as few as possible. A part is a flow of its own, the whole one
 * without what is not kept: as nothing that is kept depends on the rest, play in it is play in the whole with some
 * events left out that change nothing of it. So what is asked of the kept has the same answers, and the same lengths.
 */
import { own, type Effect, type FlowDocument, type Id, type Rule } from '../document/types.ts';
import { parts as partsOfText, type Expression } from '../language/ast.ts';
import type { FittingRule } from '../play/fit.ts';
import { prepare, type Flow } from '../play/flow.ts';
import { usedUp } from '../vocabulary/pieces.ts';
import { deedOf } from '../vocabulary/triggers.ts';

export interface FlowPart {
  flow: Flow;
  /** The rules whose firing is told, the variables whose values, and the expectations (`place/index`). */
  rules: Set<Id>;
  variables: Set<Id>;
  expectations: Set<string>;
  /** Whether what can be had of a piece is the same as in the whole: it is kept, or nothing is about it. */
  tellsOf(level: Id, piece: Id): boolean;
  /** How many rules of one place are left out at the most that one happening fires, and that wait until something holds. */
  leftOut: { atOnce: number; holds: number };
}

/** What is kept of a flow. */
interface Kept {
  /** Variables, and pieces of levels (`level piece`). */
  variables: Set<Id>;
  pieces: Set<string>;
  rules: Set<Id>;
  expectations: Set<string>;
}

/** As many parts as are asked for in flows of this size (rules and variables); in larger ones fewer, as each takes longer. */
const mostParts = 200;
const usualSize = 300;

/**
 * The parts of a flow, each made when it is asked for: the one that is in all others first, then the smaller before the
 * larger; none where it has but one.
 */
export function* partsOf(flow: Flow): Generator<FlowPart> {
  if (asksWhetherUsed(flow)) return;
  const dependence = new Dependence(flow);
  const assigned = new Set([...flow.rules.values()].flatMap(({ rule }) => (rule.do ?? []).flatMap(assignedBy)));
  const common = dependence.close(undefined, {});
  const beside = [...flow.rules.keys()].filter((id) => !common.rules.has(id));
  const values = [...assigned].filter((id) => !common.variables.has(id));
  const most = Math.ceil(mostParts * Math.min(1, usualSize / (flow.rules.size + Object.keys(flow.document.variables).length)));
  const all = [
    ...beside.slice(0, most).map((id) => dependence.close(common, { rules: [id] })),
    ...values.slice(0, most).map((id) => dependence.close(common, { variables: [id] })),
    ...flow.expectations
      .slice(0, mostParts)
      .map(({ place, index, condition }) =>
        dependence.close(common, { text: [condition, place], expectations: [`${place}/${index}`] })
      )
  ];
  const size = ({ variables, pieces }: Kept) => variables.size + pieces.size;
  const distinct = new Map<string, Kept>([[keyOf(common), common]]);
  for (const kept of all.sort((a, b) => size(a) - size(b))) {
    const same = distinct.get(keyOf(kept));
    if (!same) distinct.set(keyOf(kept), kept);
    else for (const what of ['rules', 'expectations'] as const) for (const each of kept[what]) same[what].add(each);
  }
  const found = [...distinct.values()];
  const everything = new Set(found.flatMap(({ variables, pieces }) => [...variables, ...pieces])).size;
  // where one part keeps everything nothing is won by looking at it apart
  for (const kept of found) if (size(kept) < everything) yield slice(flow, kept, assigned, dependence.named);
}

/** Whether a slot is used depends on all that is kept from game to game. */
const asksWhetherUsed = ({ rules }: Flow) =>
  [...rules.values()].some(
    ({ rule, condition, holds }) =>
      'slot' in rule.when ||
      [condition, holds].some((text) => text && partsOfText(text).some((part) => part.kind === 'has' && part.what === 'slot'))
  );

const keyOf = ({ variables, pieces }: Kept) => [...[...variables].sort(), '', ...[...pieces].sort()].join(' ');
const waits = ({ when }: Rule) => 'after' in when || 'every' in when;
const assignedBy = (effect: Effect) => ('set' in effect ? [effect.set] : []);

/** What a rule depends on and decides, by variables and pieces of levels. */
interface Ties {
  moves: boolean;
  reads: string[];
  writes: string[];
  /** What is assigned, what the value depends on, and whether its text says where the rule applies. */
  sets: { to: Id; reads: string[]; says: boolean }[];
}

/** What depends on what. */
class Dependence {
  /** Whether `holds` rules can set each other off: then all of them matter. */
  private readonly entangled: boolean;
  private readonly ties = new Map<Id, Ties>();
  /** The pieces that some rule or passage is about. */
  readonly named = new Set<string>();
  /** By variable or piece the rules that write it. */
  private readonly writers = new Map<string, Id[]>();

  constructor(private readonly flow: Flow) {
    const rules = [...flow.rules.values()];
    const holds = rules.filter(({ holds: condition }) => condition !== undefined);
    const read = new Set(holds.flatMap((rule) => this.readBy(rule)));
    this.entangled = holds.some((rule) => this.writtenBy(rule).some((each) => read.has(each)));
    for (const rule of rules) {
      const ties = this.tiesOf(rule);
      this.ties.set(rule.id, ties);
      for (const atom of ties.writes) this.writers.set(atom, [...(this.writers.get(atom) ?? []), rule.id]);
      for (const atom of [...ties.writes, ...ties.reads]) this.named.add(atom);
    }
    for (const atom of this.passages()) this.named.add(atom);
  }

  /** All that what is wanted depends on, beside what is known to be kept. */
  close(
    known: Kept | undefined,
    wanted: { rules?: Id[]; variables?: Id[]; text?: [Expression, Id]; expectations?: string[] }
  ): Kept {
    const atoms = new Set<string>(known ? [...known.variables, ...known.pieces] : []);
    const rules = new Set<Id>(known?.rules);
    const waiting: string[] = [];
    const want = (atom: string) => {
      if (atoms.has(atom)) return;
      atoms.add(atom);
      waiting.push(atom);
    };
    const take = (id: Id) => {
      if (rules.has(id)) return;
      rules.add(id);
      const { reads, sets } = this.ties.get(id)!;
      reads.forEach(want);
      for (const { to, reads: from, says } of sets) {
        if (says) want(to);
        if (atoms.has(to)) from.forEach(want);
      }
    };
    if (!known) {
      this.players().forEach(want);
      this.passages().forEach(want);
      for (const [id, { moves }] of this.ties) if (moves) take(id);
    }
    wanted.variables?.forEach(want);
    if (wanted.text) this.atomsOf(wanted.text[0], this.levelsOver(wanted.text[1])).forEach(want);
    wanted.rules?.forEach(take);
    for (let atom = waiting.pop(); atom !== undefined; atom = waiting.pop()) {
      for (const id of this.writers.get(atom) ?? []) {
        take(id);
        for (const { to, reads } of this.ties.get(id)!.sets) if (to === atom) reads.forEach(want);
      }
    }
    return {
      variables: new Set([...atoms].filter((atom) => !atom.includes(' '))),
      pieces: new Set([...atoms].filter((atom) => atom.includes(' '))),
      rules,
      expectations: new Set(wanted.expectations)
    };
  }

  /** Without a player nothing in a level can be touched. */
  private players(): string[] {
    return this.flow.levels.flatMap(([level, { pieces }]) =>
      Object.keys(pieces).flatMap((piece) => (pieces[piece]!.kind === 'player' ? [`${level} ${piece}`] : []))
    );
  }

  /** What says which passages are open, and what is met on them. */
  private passages(): string[] {
    return [...this.flow.passages.values()].flatMap(({ level, condition, passage: { through = [] } }) => [
      ...(condition ? this.atomsOf(condition, [level]) : []),
      ...through.flatMap((piece) => this.piecesNamed(piece, [level]))
    ]);
  }

  private tiesOf(rule: FittingRule): Ties {
    const sets = (rule.rule.do ?? []).flatMap((effect, index) => {
      const expression = rule.expressions[index];
      if (!('set' in effect) || !expression) return [];
      const says = [...partsOfText(expression)].some(({ kind }) => kind === 'left' || kind === 'taken');
      return [{ to: effect.set, reads: this.atomsOf(expression, this.levelsOf(rule)), says }];
    });
    return { moves: this.moves(rule), reads: this.readBy(rule), writes: this.writtenBy(rule), sets };
  }

  /** Whether a rule matters for where the player is, or for what goes on around all values. */
  private moves({ rule, pieces, holds }: FittingRule): boolean {
    const effects = rule.do ?? [];
    const values = effects.every((each) => 'set' in each || 'reset' in each || 'remove' in each || 'restore' in each);
    return rule.go !== undefined || !values || (waits(rule) && pieces.length > 0) || (this.entangled && holds !== undefined);
  }

  private writtenBy(rule: FittingRule): string[] {
    return (rule.rule.do ?? []).flatMap((effect) => {
      if ('set' in effect) return [effect.set];
      if ('reset' in effect) return [effect.reset];
      if ('remove' in effect) return this.piecesNamed(effect.remove, this.levelsOf(rule));
      if ('defeat' in effect) return this.piecesNamed(effect.defeat, this.levelsOf(rule));
      if ('restore' in effect) return this.piecesNamed(effect.restore, this.levelsOf(rule));
      return [];
    });
  }

  /** What says whether a rule fires. */
  private readBy(rule: FittingRule): string[] {
    const levels = this.levelsOf(rule);
    const deed = deedOf(rule.rule.when);
    return [
      ...(deed ? this.piecesNamed(deed.piece, levels) : []),
      ...[rule.condition, rule.holds].flatMap((text) => (text ? this.atomsOf(text, levels) : []))
    ];
  }

  private atomsOf(text: Expression, levels: Id[]): string[] {
    return [...partsOfText(text)].flatMap((part) => {
      if (part.kind === 'variable') return [part.id];
      return part.kind === 'left' || part.kind === 'taken' ? this.piecesNamed(part.piece, levels) : [];
    });
  }

  private piecesNamed(piece: Id, levels: Id[]): string[] {
    return levels
      .filter((level) => {
        const place = this.flow.document.places[level]!;
        const found = place.kind === 'level' ? own(place.pieces, piece) : undefined;
        return found !== undefined && usedUp(found);
      })
      .map((level) => `${level} ${piece}`);
  }

  /** The levels over which a rule is read. */
  private levelsOf({ owner }: FittingRule): Id[] {
    if ('place' in owner) return this.levelsOver(owner.place);
    return this.flow.levels.filter(([, { group }]) => !('group' in owner) || group === owner.group).map(([level]) => level);
  }

  private levelsOver(place: Id): Id[] {
    return this.flow.document.places[place]!.kind === 'level' ? [place] : this.flow.levels.map(([level]) => level);
  }
}

/** The flow of what is kept. Deadlines and clocks stay, as each is an event, but nothing happens then. */
function slice(flow: Flow, kept: Kept, assigned: Set<Id>, named: Set<string>): FlowPart {
  const { document, rules } = flow;
  const keeps = (effect: Effect) =>
    'set' in effect ? kept.variables.has(effect.set) : 'reset' in effect ? kept.variables.has(effect.reset) : true;
  const sliced = (list: Rule[]): Rule[] =>
    list.flatMap((rule): Rule[] => {
      if (!rules.has(rule.id)) return [];
      if (kept.rules.has(rule.id)) return [rule.do ? { ...rule, do: rule.do.filter(keeps) } : rule];
      return waits(rule) ? [{ id: rule.id, when: rule.when }] : [];
    });
  const places: FlowDocument['places'] = {};
  const leftOut = { atOnce: 0, holds: 0 };
  for (const [id, place] of Object.entries(document.places)) {
    places[id] = { ...place, rules: sliced(place.rules) };
    const group = place.kind === 'level' && place.group !== undefined ? own(document.groups, place.group) : undefined;
    const read = [...place.rules, ...(group?.rules ?? []), ...document.rules];
    const out = read.filter((rule) => rules.has(rule.id) && !kept.rules.has(rule.id));
    const triggers = out.flatMap(({ when }) =>
      'holds' in when ? [] : [JSON.stringify({ ...when, key: undefined, idle: undefined })]
    );
    const atOnce = triggers.map((trigger) => triggers.filter((other) => other === trigger).length);
    // by walking several things happen at once
    const walking = out.filter(({ when }) => 'touch' in when || 'walk' in when || 'reach' in when).length;
    leftOut.atOnce = Math.max(leftOut.atOnce, flow.passagesIn(id).length > 0 ? walking : 0, ...atOnce);
    leftOut.holds = Math.max(leftOut.holds, out.length - triggers.length);
  }
  const groups = Object.fromEntries(
    Object.entries(document.groups).map(([id, group]) => [id, { ...group, rules: sliced(group.rules) }])
  );
  const part = prepare({ ...document, places, groups, rules: sliced(document.rules) });
  return {
    flow: {
      ...part,
      home: flow.home,
      objectives: [],
      expectations: part.expectations.filter(({ place, index }) => kept.expectations.has(`${place}/${index}`))
    },
    rules: kept.rules,
    variables: new Set(Object.keys(document.variables).filter((id) => kept.variables.has(id) || !assigned.has(id))),
    expectations: kept.expectations,
    tellsOf: (level, piece) => kept.pieces.has(`${level} ${piece}`) || !named.has(`${level} ${piece}`),
    leftOut
  };
}
