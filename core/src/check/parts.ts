/**
 * Parts of a flow that can be explored apart. What moves the player, and all that this depends on, is in every part;
 * values and pieces that nothing of it reads are in as few as possible. A part is a flow of its own, the whole one
 * without what is not kept: as nothing that is kept depends on the rest, play in it is play in the whole with some
 * events left out that change nothing of it. So what is asked of the kept has the same answers, and the same lengths.
 */
import { own, usedUp, type Effect, type FlowDocument, type Id, type Rule } from '../document/types.ts';
import { parts as partsOfText, type Expression } from '../language/ast.ts';
import type { FittingRule } from '../play/fit.ts';
import { prepare, type Flow } from '../play/flow.ts';

export interface Part {
  flow: Flow;
  /** The rules whose firing is told, the variables whose values, and the expectations (`place/index`). */
  rules: Set<Id>;
  variables: Set<Id>;
  expectations: Set<string>;
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

/** The parts of a flow, the one that is in all others first, then the smaller before the larger; none where it has but one. */
export function partsOf(flow: Flow): Part[] {
  const dependence = new Dependence(flow);
  const assigned = new Set([...flow.rules.values()].flatMap(({ rule }) => (rule.do ?? []).flatMap(assignedBy)));
  const common = dependence.close({});
  const all = [
    ...[...flow.rules.keys()].filter((id) => !common.rules.has(id)).map((id) => dependence.close({ rules: [id] })),
    ...[...assigned].filter((id) => !common.variables.has(id)).map((id) => dependence.close({ variables: [id] })),
    ...flow.expectations.map(({ place, index, condition }) =>
      dependence.close({ texts: [[condition, place]], expectations: [`${place}/${index}`] })
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
  const most = new Set(found.flatMap(({ variables, pieces }) => [...variables, ...pieces])).size;
  // where one part keeps everything nothing is won by looking at it apart
  const smaller = found.filter((kept) => size(kept) < most);
  return smaller.map((kept) => slice(flow, kept, assigned));
}

const keyOf = ({ variables, pieces }: Kept) => [...[...variables].sort(), '', ...[...pieces].sort()].join(' ');
const assignedBy = (effect: Effect) => ('set' in effect ? [effect.set] : []);

/** What depends on what. */
class Dependence {
  private readonly rules: FittingRule[];
  private readonly players: string[];
  /** Whether `holds` rules can set each other off: then all of them matter. */
  private readonly entangled: boolean;
  private readonly levelsByRule = new Map<Id, Id[]>();

  constructor(private readonly flow: Flow) {
    this.rules = [...flow.rules.values()];
    this.players = flow.levels.flatMap(([level, { pieces }]) =>
      Object.keys(pieces).flatMap((piece) => (pieces[piece]!.kind === 'player' ? [`${level} ${piece}`] : []))
    );
    const holds = this.rules.filter(({ holds: condition }) => condition !== undefined);
    const read = new Set(holds.flatMap((rule) => this.readBy(rule).map(String)));
    this.entangled = holds.some((rule) => this.writtenBy(rule).some((each) => read.has(each)));
  }

  /** All that what is wanted depends on. */
  close(wanted: { rules?: Id[]; variables?: Id[]; texts?: [Expression, Id][]; expectations?: string[] }): Kept {
    const atoms = new Set<string>(this.players);
    const rules = new Set<Id>();
    const take = (rule: FittingRule) => {
      rules.add(rule.id);
      for (const atom of this.readBy(rule)) atoms.add(atom);
    };
    for (const id of wanted.variables ?? []) atoms.add(id);
    for (const [text, place] of wanted.texts ?? [])
      for (const atom of this.atomsOf(text, this.levelsOver(place))) atoms.add(atom);
    for (const id of wanted.rules ?? []) take(this.flow.rules.get(id)!);
    for (let before = -1; before !== atoms.size + rules.size;) {
      before = atoms.size + rules.size;
      for (const rule of this.rules) {
        if (!rules.has(rule.id) && (this.moves(rule) || this.writtenBy(rule).some((atom) => atoms.has(atom)))) take(rule);
        if (!rules.has(rule.id)) continue;
        (rule.rule.do ?? []).forEach((effect, index) => {
          const expression = rule.expressions[index];
          if (!('set' in effect) || !expression) return;
          // a text that names pieces says where its rule applies
          const says = [...partsOfText(expression)].some(({ kind }) => kind === 'left' || kind === 'taken');
          if (says) atoms.add(effect.set);
          if (atoms.has(effect.set)) for (const atom of this.atomsOf(expression, this.levelsOf(rule))) atoms.add(atom);
        });
      }
    }
    return {
      variables: new Set([...atoms].filter((atom) => !atom.includes(' '))),
      pieces: new Set([...atoms].filter((atom) => atom.includes(' '))),
      rules,
      expectations: new Set(wanted.expectations)
    };
  }

  /** Whether a rule matters for where the player is, or for what goes on around all values. */
  private moves({ rule, pieces, holds }: FittingRule): boolean {
    const effects = rule.do ?? [];
    const values = effects.every((each) => 'set' in each || 'reset' in each || 'remove' in each || 'restore' in each);
    return (
      rule.go !== undefined || !values || ('after' in rule.when && pieces.length > 0) || (this.entangled && holds !== undefined)
    );
  }

  private writtenBy(rule: FittingRule): string[] {
    return (rule.rule.do ?? []).flatMap((effect) => {
      if ('set' in effect) return [effect.set];
      if ('reset' in effect) return [effect.reset];
      if ('remove' in effect) return this.piecesNamed(effect.remove, this.levelsOf(rule));
      if ('restore' in effect) return this.piecesNamed(effect.restore, this.levelsOf(rule));
      return [];
    });
  }

  /** What says whether a rule fires. */
  private readBy(rule: FittingRule): string[] {
    const levels = this.levelsOf(rule);
    const { when } = rule.rule;
    const trigger = 'touch' in when ? when.touch : 'collect' in when ? when.collect : 'defeat' in when ? when.defeat : undefined;
    return [
      ...(trigger === undefined ? [] : this.piecesNamed(trigger, levels)),
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
  private levelsOf({ id, owner }: FittingRule): Id[] {
    let found = this.levelsByRule.get(id);
    if (!found) {
      found =
        'place' in owner
          ? this.levelsOver(owner.place)
          : this.flow.levels.filter(([, { group }]) => !('group' in owner) || group === owner.group).map(([level]) => level);
      this.levelsByRule.set(id, found);
    }
    return found;
  }

  private levelsOver(place: Id): Id[] {
    return this.flow.document.places[place]!.kind === 'level' ? [place] : this.flow.levels.map(([level]) => level);
  }
}

/** The flow of what is kept. A deadline stays, as passing it is an event, but nothing happens then. */
function slice(flow: Flow, kept: Kept, assigned: Set<Id>): Part {
  const { document, rules } = flow;
  const keeps = (effect: Effect) =>
    'set' in effect ? kept.variables.has(effect.set) : 'reset' in effect ? kept.variables.has(effect.reset) : true;
  const sliced = (list: Rule[]): Rule[] =>
    list.flatMap((rule): Rule[] => {
      if (!rules.has(rule.id)) return [];
      if (kept.rules.has(rule.id)) return [rule.do ? { ...rule, do: rule.do.filter(keeps) } : rule];
      return 'after' in rule.when ? [{ id: rule.id, when: rule.when }] : [];
    });
  const places: FlowDocument['places'] = {};
  const leftOut = { atOnce: 0, holds: 0 };
  for (const [id, place] of Object.entries(document.places)) {
    places[id] = { ...place, rules: sliced(place.rules) };
    const group = place.kind === 'level' && place.group !== undefined ? own(document.groups, place.group) : undefined;
    const read = [...place.rules, ...(group?.rules ?? []), ...document.rules];
    const out = read.filter((rule) => rules.has(rule.id) && !kept.rules.has(rule.id));
    const triggers = out.flatMap(({ when }) => ('holds' in when ? [] : [JSON.stringify({ ...when, key: undefined })]));
    const atOnce = triggers.map((trigger) => triggers.filter((other) => other === trigger).length);
    leftOut.atOnce = Math.max(leftOut.atOnce, ...atOnce);
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
      expectations: part.expectations.filter(({ place, index }) => kept.expectations.has(`${place}/${index}`))
    },
    rules: kept.rules,
    variables: new Set(Object.keys(document.variables).filter((id) => kept.variables.has(id) || !assigned.has(id))),
    expectations: kept.expectations,
    leftOut
  };
}
