/** The ways on which the events of play are walked over the plan of a level, cell by cell. */
import { heapsOf } from '../document/ground.ts';
import { own, type Event, type Id, type Level } from '../document/types.ts';
import type { Expression } from '../language/ast.ts';
import { evaluate } from '../language/evaluate.ts';
import type { Place } from '../plan/automaton.ts';
import type { Plotted } from '../plan/derive.ts';
import { plotOf } from '../plan/grown.ts';
import { wayWhere, type Holding, type Way } from '../plan/walk.ts';
import { walkedTo } from '../play/events.ts';
import type { Flow } from '../play/flow.ts';
import { conditionAt } from '../play/scope.ts';
import type { State } from '../play/state.ts';
import { readingOf } from '../play/turn.ts';

/** Where the player is: its place, the spot that play knows of, and the cells whose piece has been taken. */
export interface Standing {
  place: Place;
  spot: Id | null;
  taken: ReadonlySet<number>;
}

export class Afoot {
  readonly plotted: Plotted;
  private readonly level: Level;
  private readonly conditions = new Map<string, Expression | undefined>();

  constructor(
    flow: Flow,
    readonly id: Id
  ) {
    this.level = flow.document.places[id] as Level;
    this.plotted = plotOf(flow.document, this.level)!;
  }

  /** Whether conditions of the plan hold in a state. */
  holdsIn(flow: Flow, state: State): Holding {
    return (conditions) =>
      conditions.every((text) => {
        if (!this.conditions.has(text)) this.conditions.set(text, conditionAt(flow.document, { place: this.id }, text));
        const condition = this.conditions.get(text);
        return condition !== undefined && evaluate(condition, readingOf(flow, state)) === true;
      });
  }

  /** The spot of a place; where too much follows from the plan all of the level is one. */
  spotAt(place: Place): Id | undefined {
    const [one, ...more] = Object.keys(this.level.spots);
    const isOne = more.length === 0 && Object.keys(this.plotted.derived.spots).length > 1;
    return isOne ? one : this.plotted.spotAt(place);
  }

  /** The cell in which the player arrives: that of its entry, else the first of its spot. */
  arrivalIn({ latest, spot }: State): number | undefined {
    const { ground, derived } = this.plotted;
    const entry = latest?.level === this.id ? latest.entry : null;
    const wanted = entry ?? Object.keys(this.level.entries)[0];
    const placed = Object.values(this.level.plan!.things ?? {}).find((thing) => 'entry' in thing && thing.entry === wanted);
    const at = placed && 'entry' in placed ? ground.at(...placed.cell) : undefined;
    if (at !== undefined && this.spotAt({ cell: at }) === spot) return at;
    const [first] = (spot === null ? undefined : own(derived.spots, spot)?.cells) ?? [];
    return first && ground.at(...first);
  }

  /** Which of the entries of `at` of a piece a cell belongs to. */
  heapAt(piece: Id, cell: number): number | undefined {
    const placed = this.plotted.derived.placed.find((each) => this.plotted.ground.at(...each.cell) === cell);
    return heapsOf(piece, this.level.pieces[piece]!).find(({ spots }) => spots?.join() === placed?.spots.join())?.of;
  }

  /**
   * The shortest way to where an event happens, within the player's spot or by the passage that is walked; undefined for what
   * happens nowhere, and where none leads there.
   */
  wayFor(flow: Flow, state: State, event: Event, { place: from, spot: here, taken }: Standing): Way | undefined {
    const { graph, ground } = this.plotted;
    const way = (isThere: (place: Place) => boolean, through: readonly Id[] = []) =>
      wayWhere(graph.automaton, from, isThere, this.holdsIn(flow, state), (place) => {
        const acting = ground.acting.get(place.cell);
        const spot = this.spotAt(place);
        return (acting === undefined || through.includes(acting)) && (spot === undefined || spot === here);
      });
    if ('walk' in event) {
      const spot = walkedTo(flow, state, event);
      return way((place) => this.spotAt(place) === spot, own(this.level.passages, event.walk)?.through);
    }
    const piece = 'collect' in event ? event.collect : 'touch' in event ? event.touch : undefined;
    if (piece === undefined) return undefined;
    const isOf = (cell: number) => !('of' in event) || this.heapAt(piece, cell) === event.of;
    return way(({ cell }) => ground.pieces.get(cell) === piece && !taken.has(cell) && isOf(cell));
  }
}
