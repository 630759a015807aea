/** What is known, without trying, of which finding explains which. */
import { findRule, levelsOfOwner, type FlowDocument, type Id } from '../document/types.ts';
import { rulesTo } from '../play/leading.ts';
import { prepare, type Flow } from '../play/flow.ts';
import { placeOf } from '../report/answers.ts';
import type { CheckName, Reason, Verdict } from '../report/report.ts';

/** The findings that may explain one directly, as `check subject`; only those that there are count. */
export class Explainers {
  private readonly flow: Flow;

  constructor(private readonly document: FlowDocument) {
    this.flow = prepare(document);
  }

  of(verdict: Verdict): string[] {
    return (explainers[verdict.check]?.(this, verdict) ?? []).filter((key) => key !== `${verdict.check} ${verdict.subject}`);
  }

  /** What keeps a rule from firing. */
  deadRule(id: Id, never?: Reason['never']): string[] {
    const found = findRule(this.document, id);
    if (!found) return [];
    const place = 'place' in found.owner ? found.owner.place : undefined;
    const misfits = [`reference rule/${id}`, `condition ${id}`];
    const { when } = found.rule;
    switch (never) {
      case 'place not reached':
        return place === undefined ? [] : this.away(place);
      case 'trigger never happens':
        return [...('hear' in when ? [`signal-raised ${when.hear}`] : []), ...(place === undefined ? [] : this.away(place))];
      case 'always overtaken':
        return [`overtaken-deadline ${id}`, `rule-hidden ${id}`, ...(place === undefined ? [] : [`over-at-once ${place}`])];
      default:
        return [...misfits, `goal-count ${id}`, ...(place === undefined ? [] : [`over-at-once ${place}`])];
    }
  }

  /** What keeps the player from a place, or out of it. */
  away(place: Id): string[] {
    return [`place-reached ${place}`, `over-at-once ${place}`];
  }

  /** What keeps the player from getting past a place. */
  past(place: Id): string[] {
    return [...this.away(place), `level-completable ${place}`, `arrival-completable ${place}`, ...this.deadExits(place)];
  }

  /** The rules of a place that lead out of it, which may be dead. */
  private deadExits(place: Id): string[] {
    const { all } = this.flow.applying(place, place);
    return all
      .filter(({ rule }) => rule.go)
      .flatMap(({ id }) => [`goal-count ${id}`, `never-stranded ${id}`, `rule-fires ${id}`]);
  }

  /** Without a rule for their end nothing happens any more once they are down. */
  private lonePlayers(id: Id): string[] {
    const place = this.document.places[id]!;
    if (place.kind !== 'level') return [];
    return Object.keys(place.pieces)
      .filter((piece) => place.pieces[piece]!.kind === 'player')
      .map((piece) => `piece-handled ${id}/${piece}`);
  }

  /** A level that is over as soon as it is entered leads back to a screen again and again. */
  private sentBackBy(place: Id): string[] {
    const owners = rulesTo(this.document, place).map(({ id }) => findRule(this.document, id)!.owner);
    const levels = owners.flatMap((owner) => levelsOfOwner(this.document, owner) ?? []);
    return levels.map((level) => `over-at-once ${level}`);
  }

  /** What keeps the player from a spot: that the level is not reached, or none of the passages that lead there is taken. */
  offPath(subject: string): string[] {
    const [level, spot] = subject.split('/') as [Id, Id];
    const leading = this.flow
      .passagesIn(level)
      .filter(({ passage: { from, to, both } }) => to === spot || (both && from === spot));
    return [...this.away(level), ...leading.map(({ id }) => `passage-walked ${id}`)];
  }

  /** The pieces of a level may be where the player never comes. */
  outOfReach(level: Id): string[] {
    const place = this.document.places[level]!;
    return place.kind === 'level' ? Object.keys(place.pieces).map((piece) => `piece-in-reach ${level}/${piece}`) : [];
  }

  /** What keeps the player from something in a level: the spots that its reasons speak of. */
  atStart(subject: string, why: Reason[]): string[] {
    const level = subject.split('/')[0]!;
    return why.flatMap(({ spots = [] }) =>
      spots.flatMap((spot) => [`spot-reached ${level}/${spot}`, ...this.offPath(`${level}/${spot}`)])
    );
  }

  /** Signals raised in a level that no rule hears may have been meant to win it. */
  unheard(level: Id): string[] {
    const raised = this.flow.applying(level, level).all.flatMap(({ rule }) => rule.do ?? []);
    return raised.flatMap((effect) => ('raise' in effect ? [`signal-heard ${effect.raise}`] : []));
  }

  trapped(verdict: Verdict): string[] {
    const place = placeOf(this.document, verdict);
    return place === undefined ? [] : [...this.past(place), ...this.lonePlayers(place), ...this.sentBackBy(place)];
  }
}

type Explain = (known: Explainers, verdict: Verdict) => string[];

/** What explains any of a verdict's reasons. */
const byReasons =
  (each: (known: Explainers, reason: Reason) => string[]): Explain =>
  (known, { why = [] }) =>
    why.flatMap((reason) => each(known, reason));

/** Places out of which the player does not get. */
const stuckIn = (places: Id[]): string[] =>
  places.flatMap((place) => [`moves-on ${place}`, `never-stuck ${place}`, `attempt-ends ${place}`]);

const trapped: Explain = (known, verdict) => known.trapped(verdict);

const explainers: Partial<Record<CheckName, Explain>> = {
  'place-reached': byReasons((known, { rule, never, places = [] }) => {
    if (rule === undefined) return places.flatMap((place) => known.past(place));
    const fires = never === 'place not reached' ? [] : [`never-stranded ${rule}`, `rule-fires ${rule}`];
    return [...fires, ...known.deadRule(rule, never)];
  }),
  'rule-fires': byReasons((known, { rule, never }) => (rule === undefined ? [] : known.deadRule(rule, never))),
  'level-completable': (known, verdict) => [
    ...deadRules(known, verdict),
    ...known.unheard(verdict.subject),
    ...known.outOfReach(verdict.subject)
  ],
  'arrival-completable': (_, { subject, why = [] }) => [
    `level-completable ${subject}`,
    ...why.flatMap(({ rule }) => (rule === undefined ? [] : [`goal-count ${rule}`, `rule-fires ${rule}`]))
  ],
  'objective-met': (known, { subject, why = [] }) => {
    const [place] = subject.split('/') as [string];
    const dead = why.flatMap(({ rule }) => (rule === undefined ? [] : [`rule-fires ${rule}`, ...known.deadRule(rule)]));
    return [`goal-count ${subject}`, ...known.away(place), ...dead];
  },
  'spot-reached': (known, { subject }) => known.offPath(subject),
  'passage-walked': (known, { subject, why = [] }) => known.atStart(subject, why),
  'piece-in-reach': (known, { subject, why = [] }) => known.atStart(subject, why),
  missable: (_, { subject }) => [`never-stuck ${subject.split('/')[0]!}`],
  'lost-for-good': byReasons((_, { places = [] }) => (places.length > 3 ? [] : stuckIn(places))),
  'objective-needed': (_, { subject }) => [`objective-met ${subject}`],
  'attempt-ends': (known, verdict) => [`never-stuck ${verdict.subject}`, ...known.trapped(verdict)],
  'never-stuck': trapped,
  'moves-on': trapped,
  'ending-in-reach': byReasons((_, { places = [] }) => stuckIn(places)),
  'entry-used': (_, { subject }) => [`place-reached ${subject.split('/')[0]!}`],
  'goal-partial': (_, { subject }) => [`goal-count ${subject}`],
  'shared-overridden': (_, { subject }) => [`rule-hidden ${subject}`]
};

const deadRules = byReasons((known, { rule, never }) =>
  rule === undefined ? [] : [`rule-fires ${rule}`, ...known.deadRule(rule, never)]
);
