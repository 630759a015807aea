/** One half of the pool of random documents: each can be gone through by a process of its own. */
import { expect } from 'chai';
import fc from 'fast-check';
import { explorePacked } from '../../src/explore/packed/explore.ts';
import { needsOf } from '../../src/explore/packed/needs.ts';
import { replay } from '../../src/play/replay.ts';
import { ruleLists, targetsOf, type FlowDocument } from '../../src/document/types.ts';
import { prepare } from '../../src/play/flow.ts';
import { effectKind, effectKinds } from '../../src/vocabulary/effects.ts';
import { moveKinds } from '../../src/vocabulary/moves.ts';
import { triggerKind, triggerKinds } from '../../src/vocabulary/triggers.ts';
import { checked, compare, documents, limit, seed, usual } from './compare.ts';
import { pooledFlow } from './random-flow.ts';

/** How often something is in the documents that were compared. */
class Tally {
  private readonly counts = new Map<string, number>();

  of(what: string): number {
    return this.counts.get(what) ?? 0;
  }

  add(document: FlowDocument): void {
    const used = new Set<string>(Object.values(document.orders).map(({ draw }) => draw));
    if (needsOf(prepare(document)).merged.size > 0) used.add('merged');
    if (document.places.quay_twin) used.add('twins');
    if (/\bhas\(/.test(JSON.stringify(document))) used.add('has');
    if (/\bhas\((save|slot)|saved\(/.test(JSON.stringify(document))) used.add('has saved');
    const grounds = [...needsOf(prepare(document)).grounds.values()];
    if (grounds.some(({ kept }) => kept)) used.add('spots');
    if (grounds.some(({ kept, open }) => !kept && open.size > 1)) used.add('open spots');
    if (/\bat\(/.test(JSON.stringify(document))) used.add('at');
    for (const place of Object.values(document.places)) {
      if (place.kind === 'level' && Object.keys(place.objectives).length > 0) used.add('objective');
      if (['after', 'every'].every((kind) => place.rules.some(({ when }) => kind in when))) used.add('clock and deadline');
    }
    for (const { rules } of ruleLists(document))
      for (const { when, do: effects = [], go } of rules) {
        used.add(`when ${triggerKind(when)}`);
        for (const effect of effects) used.add(`do ${effectKind(effect)}`);
        for (const target of go ? targetsOf(go) : []) used.add('move' in target ? `go ${target.move}` : 'go place');
      }
    for (const what of used) this.counts.set(what, this.of(what) + 1);
  }
}

export function pool(half: 1 | 2, expected: { compared: number; replayed: number }): void {
  describe(`the packed exploration on random documents, half ${half}`, () => {
    const numRuns = Math.ceil(documents / 2);

    it(`says what the plain one says: verdicts, lengths, reasons and arrivals of ${numRuns} documents`, () => {
      const tally = new Tally();
      let compared = 0;
      fc.assert(
        fc.property(pooledFlow, (document) => {
          if (!compare(document)) return;
          compared++;
          tally.add(document);
        }),
        { numRuns, seed: seed + half }
      );
      // the generator must not drift toward documents too large to be compared, nor away from anything there is
      if (usual) expect(compared).to.equal(expected.compared);
      else expect(compared).to.be.greaterThan(numRuns / 2);
      const kinds = [
        ...triggerKinds.map((kind) => `when ${kind}`),
        ...effectKinds.map((kind) => `do ${kind}`),
        ...moveKinds.map((kind) => `go ${kind}`)
      ];
      for (const kind of [
        ...kinds,
        'fixed',
        'table',
        'bag',
        'merged',
        'twins',
        'objective',
        'clock and deadline',
        'has',
        'has saved',
        'spots',
        'open spots',
        'at'
      ])
        expect(tally.of(kind), kind).to.be.greaterThan(numRuns / 100);
    }).timeout(60 * 60_000);

    it('gives routes that lead where it says', () => {
      let replayed = 0;
      fc.assert(
        fc.property(pooledFlow, (document) => {
          replayed += replayAll(document);
        }),
        { numRuns: Math.ceil(numRuns / 10), seed: seed + half }
      );
      if (usual) expect(replayed).to.equal(expected.replayed);
      else expect(replayed).to.be.greaterThan(numRuns);
    }).timeout(60 * 60_000);
  });
}

/** Plays every route to its end, where what is claimed must have happened. Gives how many there were. */
function replayAll(document: FlowDocument): number {
  const report = checked(document, explorePacked, limit);
  if (!report) return 0;
  const flow = prepare(document);
  let routes = 0;
  for (const { check: name, subject, route, length } of report.checks) {
    if (!route) continue;
    routes++;
    const played = replay(document, route, flow);
    const begun = route[0] && 'start' in route[0] ? 0 : 1;
    expect(played.length, `${name} ${subject}: steps played`).to.equal(route.length + begun);
    expect(route.filter((step) => !('start' in step)).length).to.equal(length);
    const last = played.at(-1)!;
    if (name === 'place-reached') expect(last.entered, `${name} ${subject}`).to.include(subject);
    if (name === 'always-settles') expect(last.state, `${name} ${subject}`).to.equal(undefined);
    if (name === 'moves-on') expect(last.state!.stack.at(-1)!.place).to.equal(subject);
    if (name === 'never-stuck' || name === 'attempt-ends') expect(last.state!.stack[0]!.place).to.equal(subject);
    if (name === 'over-at-once') {
      // where nothing settles it may be entered again and again
      const [, ...behind] = last.entered.slice(last.entered.indexOf(subject));
      expect(last.entered, `${name} ${subject}`).to.include(subject);
      expect(
        behind.some((place) => place !== subject),
        `${name} ${subject}: left again`
      ).to.equal(true);
    }
    // the event itself is the arrival, not one that leads to a state like it
    if (name === 'arrival-completable') expect(last.entered, `${name} ${subject}`).to.include(subject);
    if (name === 'passage-walked') expect(last.step, `${name} ${subject}`).to.deep.equal({ walk: subject.split('/')[1] });
    // where it is left at once, or settles nowhere, it was come to on the way
    if (name === 'spot-reached' && last.state?.spot && last.bottom === subject.split('/')[0] && last.entered.length === 0)
      expect(last.state.spot, `${name} ${subject}`).to.equal(subject.split('/')[1]);
  }
  return routes;
}
