/**
 * The player on the plan of the level that is played. It moves cell by cell; what comes of it for play are the events of the
 * trial: a passage is walked where the player comes to another spot, what is in its cell is touched or collected.
 */
import {
  own,
  type Cell,
  type Event,
  type FlowDocument,
  type Id,
  type Level,
  type Side,
  type Step
} from '@crow-lane/core/document/types';
import { heapsOf } from '@crow-lane/core/document/ground';
import { out, type Place } from '@crow-lane/core/plan/automaton';
import type { Plotted } from '@crow-lane/core/plan/derive';
import { sideOf } from '@crow-lane/core/plan/patrols';
import { tick, ticksOf, wayPast, wayTo, type Holding, type Keys } from '@crow-lane/core/plan/walk';
import { speedIn } from '@crow-lane/core/times/times';
import { means, walkedTo } from '@crow-lane/core/play/events';
import { leftMap } from '@crow-lane/core/play/turn';
import { Afoot } from '@crow-lane/core/trial/afoot';
import type { Line } from '@crow-lane/core/trial/trial';
import { Foes, type Meeting } from './foes.svelte.ts';
import type { Session } from '$lib/flow/session.svelte.ts';

export class Walking {
  place: Place = $state.raw({ cell: 0 });
  /** The cells whose piece has been taken. */
  taken: ReadonlySet<number> = $state.raw(new Set());
  /** The places still ahead on a way that was asked for. */
  ahead: Place[] = $state.raw([]);
  /** What is still to be shown of a route: the player walks to where each step happens, and then it does. */
  private shown: Step[] = $state.raw([]);
  private isUnderWay = false;
  readonly plotted: Plotted;
  private readonly afoot: Afoot;
  /** Those that patrol; undefined where none does. */
  readonly foes: Foes | undefined;
  private readonly level: Level;
  /** The spot that play knows of. */
  spot: Id | null = null;
  private footing: Place = { cell: 0 };
  /** What was touched since the player left its spot, and the line of the tape where that began. */
  private touched: Id[] = [];
  private before = 0;
  private handled: Line | undefined;

  constructor(
    private readonly session: Session,
    readonly id: Id
  ) {
    const { document } = session.trial!.flow;
    this.level = document.places[id] as Level;
    this.afoot = new Afoot(session.trial!.flow, id);
    this.plotted = this.afoot.plotted;
    const { drawn } = this.plotted.ground;
    this.foes = drawn.plan.patrols ? new Foes(document, this.level, drawn) : undefined;
    this.arrive();
  }

  get cell(): Cell {
    return this.plotted.ground.cellOf(this.place.cell);
  }

  private spotAt(place: Place): Id | undefined {
    return this.afoot.spotAt(place);
  }

  private get arrival(): number {
    return this.session.trial!.lines.findLastIndex(({ entered }) => entered.includes(this.id));
  }

  /** Back to how the player arrived. */
  restart(): void {
    this.session.rewind(this.arrival);
    // where nothing but walking has happened, the tape is as it was
    this.arrive();
  }

  /** Whether something has happened here since the player arrived that is seen on the plan. */
  get hasRoute(): boolean {
    const { lines } = this.session.trial!;
    return lines.slice(this.arrival + 1).some(({ step }) => 'walk' in step || 'collect' in step || 'touch' in step);
  }

  /** Shows on the plan, cell by cell, what has happened since the player arrived. */
  show(): void {
    const steps = this.session.trial!.lines.slice(this.arrival + 1).map(({ step }) => step);
    this.session.following = steps;
    this.restart();
  }

  /** Ticks a second. */
  get speed(): number {
    return speedIn(this.session.trial!.flow.document, this.level);
  }

  readonly holds: Holding = (conditions) => {
    const { trial, seen } = this.session;
    // while the level is being left it is still seen as it was
    const here = [trial?.state, seen].find((state) => state?.stack[0]?.place === this.id);
    return here !== undefined && this.afoot.holdsIn(trial!.flow, here)(conditions);
  };

  /** Follows what has happened in the trial besides walking: another arrival, a step back, a passage taken by its button. */
  follow(): void {
    const { trial } = this.session;
    if (!trial || trial.state.stack[0]?.place !== this.id) return;
    const line = trial.lines.at(-1);
    if (line === this.handled) return;
    const arrived = line?.entered.includes(this.id) ?? false;
    this.handled = line;
    if (line) this.foes?.recall(line);
    if (arrived || trial.state.spot === null) this.arrive();
    else if (trial.state.spot !== this.spot) this.stand(trial.state.spot);
    this.count();
  }

  /** Where the player arrives: at its entry, else where it begins. */
  private arrive(): void {
    const { state } = this.session.trial!;
    if (state.spot === null) return;
    this.foes?.begin();
    this.stand(state.spot, this.afoot.arrivalIn(state));
    this.handled = this.session.trial!.lines.at(-1);
    this.count();
    this.shown = this.session.following;
    this.session.following = [];
    const { tour } = this.session;
    if (tour) this.ahead = tour.way;
    if (this.foes) this.foes.isOut = tour?.withFoes === false && tour.way.length > 0;
    this.session.tour = undefined;
  }

  private stand(spot: Id, at?: number): void {
    const { ground, derived } = this.plotted;
    const cells = own(derived.spots, spot)?.cells ?? [];
    const [x, y] = this.cell;
    const far = ([cx, cy]: Cell) => Math.abs(cx - x) + Math.abs(cy - y);
    const nearest = cells.reduce<Cell | undefined>((best, each) => (best && far(best) <= far(each) ? best : each), undefined);
    this.place = { cell: at ?? (nearest ? ground.at(...nearest)! : 0) };
    this.footing = this.place;
    this.spot = spot;
    this.touched = [];
    this.ahead = [];
    this.shown = [];
    this.isUnderWay = false;
  }

  /**
   * What has been taken or defeated elsewhere, as by its button, is not there either; what has come back is. Of several foes the
   * one that was met last is gone first.
   */
  private count(met?: Id): void {
    const { flow, state } = this.session.trial!;
    const { placed, patrols } = this.plotted.derived;
    const taken = new Set(this.taken);
    const gone = new Set(this.foes?.gone);
    for (const [piece, value] of Object.entries(this.level.pieces)) {
      const map = leftMap(flow, state, piece);
      for (const { key, spots, n } of heapsOf(piece, value)) {
        const isOf = (each: { piece: Id; spots: Id[] }) => each.piece === piece && each.spots.join() === spots?.join();
        const things = [
          ...placed
            .filter(isOf)
            .map(({ cell }) => ({ of: taken as Set<unknown>, id: this.plotted.ground.at(...cell)! as unknown })),
          ...patrols.filter(isOf).map(({ id }) => ({ of: gone as Set<unknown>, id: id as unknown }))
        ].sort((a, b) => Number(b.id === met) - Number(a.id === met));
        const lacking = n - (map ? map[key]! : n);
        const away = things.filter(({ of, id }) => of.has(id));
        for (const { of, id } of away.slice(lacking)) of.delete(id);
        for (const { of, id } of things.filter(({ of, id }) => !of.has(id)).slice(0, Math.max(0, lacking - away.length)))
          of.add(id);
      }
    }
    this.taken = taken;
    if (this.foes) this.foes.gone = gone;
  }

  /** One tick with these keys held, or along the way that was asked for. */
  step(keys: Keys): void {
    if (!this.session.trial || this.session.moving) return;
    const isHeld = Object.values(keys).some(Boolean);
    if (isHeld) {
      this.ahead = [];
      this.shown = [];
    }
    if (this.foes && this.ahead.length === 0) this.foes.isOut = false;
    const [step] = this.shown;
    if (step) {
      this.showOn(step);
      return;
    }
    const [next, ...rest] = this.ahead;
    const { automaton } = this.plotted.graph;
    if (next) {
      this.ahead = rest;
      if (automaton.codeOf(next) === automaton.codeOf(this.place)) this.wait(1);
      else this.enter(next);
      return;
    }
    const to = tick(automaton, this.place, keys, this.holds);
    if (to === undefined) this.wait(this.foes?.scale ?? 0);
    else if (to === out) this.fallOut();
    else this.enter(to);
  }

  /** Stays where it is, so many steps of the foes. */
  private wait(steps: number): void {
    const { place } = this;
    for (let step = 0; step < steps && this.place === place; step++) {
      const met = this.foes?.pass(this.cell, this.cell, 1);
      if (met) this.meet(met);
    }
  }

  /** Time passes for the foes as the player moves. Gives the one that it meets. */
  private passTo(to: Place): Meeting | undefined {
    if (!this.foes) return undefined;
    const { graph, ground } = this.plotted;
    const lasts = Math.ceil(ticksOf(graph.automaton, this.place, to) * this.foes.scale - 1e-9);
    return this.foes.pass(this.cell, ground.cellOf(to.cell), lasts);
  }

  private meet({ patrol, side }: Meeting): void {
    const event = this.touchOf(patrol.piece, side);
    if (!event) return;
    this.did(event, this.spot);
    if (this.session.trial?.state.stack[0]?.place === this.id) this.count(patrol.id);
  }

  /** Whether something happens without a key: the player is in the air, or on its way. */
  get isOnTheMove(): boolean {
    return this.place.air !== undefined || this.ahead.length > 0 || this.shown.length > 0;
  }

  /** One tick of what is shown. What lies on the way is left alone: only what is on the tape happens. */
  private showOn(step: Step): void {
    const event = this.session.choices.find((choice) => means(step, choice.event))?.event;
    if (!event || this.session.trial!.state.stack[0]?.place !== this.id) {
      this.shown = [];
      return;
    }
    if (!this.isUnderWay) {
      const { flow, state } = this.session.trial!;
      this.ahead = this.afoot.wayFor(flow, state, event, this)?.places ?? [];
    }
    this.isUnderWay = true;
    const [next, ...rest] = this.ahead;
    if (next) {
      // foes go on, but only what is on the tape happens
      this.passTo(next);
      this.place = next;
      this.ahead = rest;
      if (rest.length > 0) return;
    }
    const steps = this.shown.slice(1);
    const { flow, state } = this.session.trial!;
    const spot = 'walk' in event ? walkedTo(flow, state, event) : this.spot;
    if ('collect' in event) this.taken = new Set([...this.taken, this.place.cell]);
    this.did(event, spot ?? null, step);
    if (spot && this.spotAt(this.place) !== spot && this.spot === spot) this.stand(spot);
    this.isUnderWay = false;
    this.shown = steps;
  }

  /** Whether a link can be taken from here. */
  get hasLink(): boolean {
    if (this.place.air) return false;
    return tick(this.plotted.graph.automaton, this.place, { use: true }, this.holds) !== undefined;
  }

  /** Goes to a cell by the shortest way on which no foe is met. Gives why not, where none leads there now. */
  go(to: Cell): 'no way' | 'foes' | undefined {
    this.shown = [];
    const { automaton } = this.plotted.graph;
    const { foes } = this;
    const plain = wayTo(automaton, this.place, to, this.holds);
    const way = plain && foes && foes.left.length > 0 ? wayPast(automaton, this.place, to, this.holds, foes) : plain;
    this.ahead = way ?? [];
    return way ? undefined : plain ? 'foes' : 'no way';
  }

  private fallOut(): void {
    const { below } = this.level.plan!;
    this.place = this.footing;
    this.ahead = [];
    if (below !== undefined) this.touch(below, undefined);
    this.touched = [];
  }

  private enter(to: Place): void {
    const { ground } = this.plotted;
    const from = this.place;
    const met = this.passTo(to);
    this.place = to;
    const acting = ground.acting.get(to.cell);
    const spot = this.spotAt(to);
    const isEntered = acting !== undefined && from.cell !== to.cell;
    if (spot !== undefined && spot !== this.spot) this.walk(spot, isEntered ? acting : undefined);
    else if (isEntered) this.touch(acting, this.sideFrom(from));
    else if (spot === this.spot && acting === undefined) this.touched = [];
    // the touch may have led elsewhere
    if (met && this.place === to) this.meet(met);
    if (this.place === to) this.collect(to.cell);
    if (this.place === to && !to.air && spot === this.spot) this.footing = to;
  }

  /** From which side the player comes to where it is. */
  private sideFrom(from: Place): Side {
    const [x, y] = this.plotted.ground.cellOf(from.cell);
    return sideOf([this.cell[0] - x, this.cell[1] - y]);
  }

  /** Takes the passage to another spot, past what was touched on the way. */
  private walk(spot: Id, acting: Id | undefined): void {
    const { session } = this;
    const passed = acting === undefined ? this.touched : [...this.touched, acting];
    const { trial } = session;
    const since = trial!.lines.length - this.before;
    // what the passage touches has been touched already: both are one walk
    const isOne = this.touched.length > 0 && since === this.touched.length;
    if (isOne) session.rewind(this.before - 1);
    const found = this.passages(spot).sort((a, b) => unlike(a.through, passed) - unlike(b.through, passed))[0];
    this.touched = [];
    if (!found) {
      this.place = this.footing;
      this.ahead = [];
      return;
    }
    this.did(found.event, spot);
  }

  private passages(spot: Id): { event: Event; through: Id[] }[] {
    const { flow, state } = this.session.trial!;
    return this.session.choices.flatMap(({ event }) =>
      'walk' in event && walkedTo(flow, state, event) === spot
        ? [{ event, through: this.level.passages[event.walk]!.through ?? [] }]
        : []
    );
  }

  private touch(piece: Id, side: Side | undefined): void {
    const event = this.touchOf(piece, side);
    if (this.touched.length === 0) this.before = this.session.trial!.lines.length;
    if (!event) return;
    this.touched = [...this.touched, piece];
    this.did(event, this.spot);
  }

  private touchOf(piece: Id, side: Side | undefined): Event | undefined {
    const events = this.session.choices.map(({ event }) => event).filter((event) => 'touch' in event && event.touch === piece);
    return events.find((each) => 'side' in each && each.side === side) ?? events.find((each) => !('side' in each));
  }

  private collect(cell: number): void {
    const piece = this.plotted.ground.pieces.get(cell);
    if (piece === undefined || this.plotted.ground.acting.has(cell) || this.taken.has(cell)) return;
    const of = this.afoot.heapAt(piece, cell);
    const event = this.session.choices
      .map((choice) => choice.event)
      .find((each) => 'collect' in each && each.collect === piece && (!('of' in each) || each.of === of));
    if (!event) return;
    this.taken = new Set([...this.taken, cell]);
    this.did(event, this.spot);
  }

  /** Does an event, and notes that it has come of walking. */
  private did(event: Event, spot: Id | null, { draws }: Pick<Step, 'draws'> = {}): void {
    const { session } = this;
    session.do(event, draws);
    const { trial } = session;
    const line = trial!.lines.at(-1)!;
    this.foes?.note(line);
    const isHere = trial!.state.stack[0]?.place === this.id && !line.entered.includes(this.id) && trial!.state.spot === spot;
    if (isHere) {
      this.spot = spot;
      this.handled = line;
    } else this.follow();
  }
}

/** By how many pieces two lists differ. */
const unlike = (some: Id[], others: Id[]): number =>
  some.filter((each) => !others.includes(each)).length + others.filter((each) => !some.includes(each)).length;

/** By session the walk that goes on, in which document and since which arrival. */
const going = new WeakMap<Session, { walking: Walking; document: FlowDocument; since: Line; end: () => void }>();

/** The walk through a level that the player has arrived in: it outlasts a menu that is opened over the level, and other views. */
export function walkingIn(session: Session, id: Id): Walking {
  const { flow, lines } = session.trial!;
  const since = lines.findLast(({ entered }) => entered.includes(id));
  const found = going.get(session);
  const isShown = session.following.length > 0 || session.tour !== undefined;
  if (found?.walking.id === id && found.since === since && found.document === flow.document && !isShown) return found.walking;
  found?.end();
  let walking: Walking | undefined;
  // what it is worked out of belongs to no part of a page, and so is not gone with one
  const end = $effect.root(() => void (walking = new Walking(session, id)));
  if (since) going.set(session, { walking: walking!, document: flow.document, since, end });
  return walking!;
}
