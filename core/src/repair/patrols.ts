/** Findings about patrols: a foe that cannot be passed goes more slowly, or the player gets a niche to wait in. */
import { setPatrol, setPlan } from '../document/edits/plan.ts';
import type { Change } from '../document/patch.ts';
import type { Cell, FlowDocument, Id, Level } from '../document/types.ts';
import { finish } from '../check/check.ts';
import { hardestOf } from '../check/patrol-checks.ts';
import { groundAt, stamped } from '../plan/draw.ts';
import { neighbours } from '../plan/automaton.ts';
import { patrolName } from '../plan/fits.ts';
import { runOf } from '../plan/patrols.ts';
import { prepare } from '../play/flow.ts';
import { passesOf, patrolsIn } from '../times/passes.ts';
import { roundsOf, type Round } from '../times/rounds.ts';
import { standingsOf } from '../vocabulary/pieces.ts';
import { setRounds } from '../document/edits/ground.ts';
import { apply } from '../document/patch.ts';
import { grownFrom } from '../plan/grown.ts';
import { named, type Offers } from './offers.ts';
import { withoutPatrol } from './plan.ts';

/** So many edits are tried before none is offered: each is a search of its own. */
const mostTried = 16;
const slower = [0.75, 0.5, 0.25];

const patrolPassable: Offers = (document, { subject }) => {
  const [id, patrol] = subject.split('/') as [Id, Id | undefined];
  const level = document.places[id] as Level;
  const works = (change: Change): boolean => {
    const next = grownFrom(document, apply(document, change.patch));
    const flow = prepare(next);
    const passes = finish(passesOf(flow, id));
    const crossings = patrol === undefined ? passes?.together : passes?.alone[patrol];
    const found = crossings && hardestOf(flow, id, crossings)?.outcome;
    return found === 'around' || found === 'passed';
  };
  const first = (changes: Change[]): Change[] => {
    const found = changes.slice(0, mostTried).find(works);
    return found ? [found] : [];
  };
  if (!level.plan) {
    // of a piece that stands in several ways only some patrols: what is said of all of it would change the others
    const isAll = ({ piece }: Round) => standingsOf(level.pieces[piece]!)!.length === 1;
    const rounds = roundsOf(level).filter((round) => isAll(round) && (patrol === undefined || round.id === patrol));
    return [
      ...first(rounds.flatMap((round) => shortened(document, id, round))),
      ...rounds.map(({ piece, stops: [stop] }) => stoodStill(document, id, piece, stop!.spot))
    ];
  }
  const patrols = patrol === undefined ? Object.keys(level.plan.patrols!) : [patrol];
  return [
    ...first(patrols.flatMap((each) => slowed(document, id, each))),
    ...first(patrols.flatMap((each) => niches(document, id, each))),
    ...patrols.flatMap((each) => withoutPatrol(document, id, each))
  ];
};

/** Between spots: a foe leaves one of them out. */
function shortened(document: FlowDocument, id: Id, { piece }: Round): Change[] {
  const level = document.places[id] as Level;
  const { name } = level.pieces[piece]!;
  const { spots, patrol } = standingsOf(level.pieces[piece]!)![0]!;
  if (!patrol || spots.length < 3) return [];
  return spots.map((spot, out) => {
    const stops = spots.map((each, at) => ({ spot: each, seconds: patrol.seconds[at]! })).filter((_, at) => at !== out);
    return named(`Let ${name} leave out ${level.spots[spot]?.name ?? spot}`, setRounds(document, id, piece, stops, patrol.turn));
  });
}

function stoodStill(document: FlowDocument, id: Id, piece: Id, spot: Id): Change {
  const level = document.places[id] as Level;
  const label = `Let ${level.pieces[piece]!.name} stay at ${level.spots[spot]?.name ?? spot}`;
  return named(label, setRounds(document, id, piece, [{ spot, seconds: 1 }], 'back'));
}

function slowed(document: FlowDocument, id: Id, patrol: Id): Change[] {
  const level = document.places[id] as Level;
  const found = patrolsIn(document, level).find((each) => each.id === patrol);
  if (!found) return [];
  return slower.map((share) => {
    const speed = Number((found.speed * share).toFixed(2));
    const label = `Let ${patrolName(level, patrol)} go ${speed} cells a second instead of ${found.speed}`;
    return named(label, setPatrol(document, id, patrol, { speed }, label));
  });
}

/** Cells beside the run that are solid: open, the player can wait in them. The middle of the run first. */
function niches(document: FlowDocument, id: Id, patrol: Id): Change[] {
  const level = document.places[id] as Level;
  const plan = level.plan!;
  const run = runOf(plan.patrols![patrol]!);
  const middle = run[Math.floor(run.length / 4)] ?? run[0]!;
  const far = ([x, y]: Cell) => Math.abs(x - middle[0]) + Math.abs(y - middle[1]);
  const isInside = ([x, y]: Cell) => x > 0 && y > 0 && y < plan.rows.length - 1 && x < plan.rows[y]!.length - 1;
  const beside = run.flatMap(([x, y]) => neighbours.map(([dx, dy]): Cell => [x + dx, y + dy]));
  const solid = beside.filter((cell, index) => {
    const isFirst = beside.findIndex((each) => String(each) === String(cell)) === index;
    return isFirst && isInside(cell) && groundAt(plan, cell) === '#';
  });
  return solid
    .sort((a, b) => far(a) - far(b))
    .map((cell) => {
      const label = `Open ${cell.join(', ')} for the player to wait in`;
      return named(label, setPlan(document, id, stamped(plan, [cell], { ground: '.' }), label));
    });
}

export const patrolRepairs = { 'patrol-passable': patrolPassable };
