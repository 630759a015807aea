/** The foes that patrol the level that is played: where they are, and which of them are gone. Their time is that of the player's moves. */
import type { Cell, FlowDocument, Id, Level, Side } from '@crow-lane/core/document/types';
import { stepsOfTick } from '@crow-lane/core/plan/passing';
import { Beats, sideOf, type Patrol } from '@crow-lane/core/plan/patrols';
import type { Drawn } from '@crow-lane/core/plan/types';
import { patrolsIn } from '@crow-lane/core/times/passes';
import { speedIn } from '@crow-lane/core/times/times';
import type { Line } from '@crow-lane/core/trial/trial';

/** A foe that the player has met, and from which side it touches it. */
export interface Meeting {
  patrol: Patrol;
  side: Side;
}

export class Foes {
  /** Steps since the player arrived. */
  now = $state(0);
  gone: ReadonlySet<Id> = $state.raw(new Set<Id>());
  /** What is shown does not know of them: they are not there. */
  isOut = $state(false);
  /** So many steps is a tick of the player. */
  readonly scale: number;
  private readonly all: Patrol[];
  private readonly speed: number;
  readonly left: Patrol[] = $derived.by(() => (this.isOut ? [] : this.all.filter(({ id }) => !this.gone.has(id))));
  readonly beats: Beats = $derived.by(() => new Beats(this.left, this.speed));
  /** Met in the step before: who stays with a foe touches it once. */
  private met: Id | undefined;
  /** By line of the tape when it was. */
  private readonly moments = new WeakMap<Line, number>();

  constructor(document: FlowDocument, level: Level, drawn: Drawn) {
    this.all = patrolsIn(document, level);
    this.scale = stepsOfTick(drawn);
    this.speed = speedIn(document, level) * this.scale;
  }

  /** The player arrives: all are at their first points. */
  begin(): void {
    this.now = 0;
    this.gone = new Set();
    this.met = undefined;
  }

  note(line: Line): void {
    this.moments.set(line, this.now);
  }

  /** Back to when a line was. */
  recall(line: Line): void {
    this.now = this.moments.get(line) ?? this.now;
    this.met = undefined;
  }

  /** Where a patrol is; undefined once it is gone, and where it cannot be played. */
  cellOf(patrol: Id): Cell | undefined {
    const index = this.left.findIndex(({ id }) => id === patrol);
    return index < 0 ? undefined : this.beats.cellAt(index, this.now);
  }

  /** Time passes in which the player goes from a cell to another, or stays. Gives the foe that it meets. */
  pass(from: Cell, to: Cell, lasts: number): Meeting | undefined {
    const { beats, left, now } = this;
    this.now += lasts;
    const found = beats.meets(from, to, now, lasts);
    const patrol = found === undefined ? undefined : left[found]!;
    const isNew = patrol !== undefined && patrol.id !== this.met;
    if (lasts > 0) this.met = patrol?.id;
    return isNew ? { patrol, side: sideOf([to[0] - from[0], to[1] - from[1]], beats.heading(found!, this.now)) } : undefined;
  }
}
