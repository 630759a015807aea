/** What of a lane's picture is at a point. */
import type { Id } from '../document/types.ts';
import type { LaneLayout, Point, Route } from './layout.ts';

/** A way that something can be put into: the rules that make it, whose they are, and where they lead. */
export interface Way {
  rules: Id[];
  /** The places they are in; shared rules are in none. */
  from: Id[];
  /** Undefined where play decides. */
  to: Id | undefined;
}

/** The way whose line is nearest to a point, at most `within` away: of a trunk all its rules, of a feeder its own. */
export function wayAt(lane: LaneLayout, at: Point, within: number): Way | undefined {
  let best: { distance: number; way: Way } | undefined;
  const offer = (points: Point[], route: Route, feeders: Route['feeders']) => {
    const distance = distanceTo(points, at);
    if (distance > within || (best && distance >= best.distance)) return;
    const rules = feeders.flatMap((feeder) => feeder.rules);
    const from = feeders.map((feeder) => feeder.from).filter((key) => lane.tiles.has(key));
    best = { distance, way: { rules: [...new Set(rules)], from, to: route.to } };
  };
  for (const route of lane.routes) {
    for (const feeder of route.feeders) offer(feeder.points, route, [feeder]);
    if (route.trunk.length > 0) offer(route.trunk, route, route.feeders);
  }
  return best?.way;
}

function distanceTo(points: Point[], at: Point): number {
  let nearest = Infinity;
  for (let n = 1; n < points.length; n++) {
    const [a, b] = [points[n - 1]!, points[n]!];
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const length = dx * dx + dy * dy;
    const along = length === 0 ? 0 : Math.min(1, Math.max(0, ((at.x - a.x) * dx + (at.y - a.y) * dy) / length));
    nearest = Math.min(nearest, Math.hypot(at.x - a.x - along * dx, at.y - a.y - along * dy));
  }
  return nearest;
}
