/** The patrols of a plan played in place: where foes are at a moment, and the player on the route past them that is shown. */
import type { Cell, Id, PlanPatrol } from '@crow-lane/core/document/types';
import { isSame, widthOf } from '@crow-lane/core/plan/draw';
import { Beats } from '@crow-lane/core/plan/patrols';
import type { Pass } from '@crow-lane/core/times/crossing';
import { patrolsIn } from '@crow-lane/core/times/passes';
import { speedIn } from '@crow-lane/core/times/times';
import type { OpenFlow } from '$lib/flow/open-flow.svelte.ts';
import type { Drawing } from './drawing.svelte.ts';

export class Playing {
  /** Seconds after the player has arrived. */
  moment = $state(0);
  pass = $state.raw<Pass | undefined>(undefined);

  constructor(
    private readonly flow: OpenFlow,
    private readonly drawing: Drawing
  ) {}

  private readonly level = $derived.by(() => ({ ...this.drawing.level!, plan: this.drawing.plan! }));
  private readonly patrols = $derived.by(() => patrolsIn(this.flow.document, this.level));
  /** Steps a second, as fine as those of the route that is shown. */
  private readonly steps = $derived.by(() => this.pass?.walked?.steps ?? speedIn(this.flow.document, this.level) * 2);
  private readonly beats = $derived.by(() => new Beats(this.patrols, this.steps));
  private readonly step = $derived.by(() => Math.floor(this.moment * this.steps + 1e-6));

  readonly foes: Record<Id, Cell> = $derived.by(() =>
    Object.fromEntries(this.patrols.map(({ id }, index) => [id, this.beats.cellAt(index, this.step)]))
  );
  readonly player: Cell | undefined = $derived.by(() => {
    const here = this.pass?.walked?.way.findLast((each) => each.step <= this.step);
    return here && this.cellOf(here.place.cell);
  });
  /** The cells of the route that is shown. */
  readonly route: Cell[] | undefined = $derived.by(() => this.pass?.walked?.way.map(({ place }) => this.cellOf(place.cell)));
  /** In seconds as long as the route, or until all are where they began, so far as that is soon. */
  readonly length: number = $derived.by(() =>
    this.pass ? this.pass.seconds : Math.min(60, Math.max(4, this.beats.period / this.steps))
  );

  private cellOf(cell: number): Cell {
    const width = widthOf(this.level.plan);
    return [cell % width, Math.floor(cell / width)];
  }
}

/**
 * What another click, or Enter, comes to for a patrol that is being drawn: the first point again goes round, the last one again
 * ends it; any other cell is its next point.
 */
export function nextPoint(points: Cell[], at: Cell): Cell[] | { turn: PlanPatrol['turn'] } {
  const [first, last] = [points[0], points.at(-1)];
  if (points.length > 2 && isSame(at, first!)) return { turn: 'round' };
  return last && isSame(at, last) ? { turn: 'back' } : [...points, at];
}
