/** What can happen in a place over a bottom place, and the rules that are read when it does. */
import { canHappenTo, isLevel, usedUp, type Id, type Level } from '../../document/types.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Event } from '../../play/turn.ts';
import type { Self } from './own.ts';
import type { RuleCode } from './rule-code.ts';
import type { Sheet } from './sheet.ts';

export interface Happening {
  event: Event;
  /** The code of whether it can happen now. */
  when: (code: RuleCode) => string;
  /** The slot of the used-up piece that is one fewer, or of the deadlines that have passed. */
  lowers?: number;
  raises?: number;
  /** The progress of the checkpoint that is touched. */
  progress?: number;
  rules: { matching: FittingRule[]; deadline?: number }[];
  /** The level that the only rule goes to when it says `chosen`. */
  chosen?: number;
}

export function happeningsOf({ at, flow, naming }: Sheet, { place }: Self, bottom: number): Happening[] {
  const { document } = flow;
  const { by, deadlines, labels } = flow.applying(at.placeIds[place]!, at.placeIds[bottom]!);

  const pressed = labels.map((press): Happening => {
    const matching = by.press.filter(({ rule }) => 'press' in rule.when && rule.when.press === press);
    return { event: { press }, when: () => 'true', rules: [{ matching }] };
  });

  const pieceEvents = (level: Level): Happening[] => {
    const { pieces } = at.levels[place]!;
    const players = Object.keys(level.pieces)
      .filter((id) => level.pieces[id]!.kind === 'player')
      .map((id) => `v[${pieces.get(id)!.slot}] > 0`);
    const someoneUp = players.length === 0 ? 'true' : `(${players.join(' || ')})`;
    return Object.entries(level.pieces).flatMap(([id, piece]) => {
      const slot = usedUp(piece) ? pieces.get(id)!.slot : undefined;
      const there = slot === undefined ? 'true' : `v[${slot}] > 0`;
      return (['touch', 'collect', 'defeat'] as const).flatMap((trigger): Happening[] => {
        if (!canHappenTo(trigger, piece.kind)) return [];
        const matching = by[trigger].filter(({ rule }) => (rule.when as Record<string, unknown>)[trigger] === id);
        // what is not kept makes no difference: taking it unheard leads back to the same state
        const lowers = slot !== undefined && trigger !== 'touch' && at.keptSlot(slot);
        if (matching.length === 0 && !lowers) return [];
        const needsPlayer = trigger !== 'defeat' || piece.kind !== 'player';
        const happening: Happening = {
          event: { [trigger]: id } as unknown as Event,
          when: () => (needsPlayer ? `${there} && ${someoneUp}` : there),
          rules: [{ matching }]
        };
        if (lowers) happening.lowers = slot;
        else if (piece.kind === 'checkpoint') happening.progress = piece.progress ?? level.progress ?? 0;
        return [happening];
      });
    });
  };

  const choices = (rule: FittingRule): Happening[] => {
    const { levels } = document.orders[(rule.rule.when as { choose: Id }).choose]!;
    return levels.flatMap((id, n) => {
      if (!isLevel(document, id)) return [];
      const previous = n === 0 ? 'true' : naming.won(levels[n - 1]!);
      const candidate = { it: naming.won(id), previous, position: n + 1 };
      return [
        {
          event: { choose: id, rule: rule.id },
          when: (code: RuleCode) => code.offered(rule, candidate),
          rules: [{ matching: [rule] }],
          chosen: at.placeIndex.get(id)!
        }
      ];
    });
  };

  const passes: Happening = {
    event: { time: true },
    when: (code) => `${code.frameSlot(at.phase)} < ${deadlines.length}`,
    raises: at.phase[0]!,
    rules: deadlines.map((seconds, deadline) => ({
      deadline,
      matching: by.after.filter(({ rule }) => 'after' in rule.when && rule.when.after === seconds)
    }))
  };

  const here = document.places[at.placeIds[place]!]!;
  return [
    ...pressed,
    ...(here.kind === 'level' ? pieceEvents(here) : []),
    ...by.choose.flatMap(choices),
    ...(deadlines.length > 0 ? [passes] : [])
  ];
}
