<script lang="ts">
  import { cut } from '@crow-lane/core/document/cut';
  import { findRule, type FlowDocument, type Owner } from '@crow-lane/core/document/types';
  import { usable, type RunUse } from '@crow-lane/core/trial/coverage';
  import { keepRun } from '@crow-lane/core/trial/runs';
  import { playSteps } from '@crow-lane/core/trial/trial';
  import { objectiveWords, passageName, placeName, ruleWords, spotName } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';

  /** What no recorded run uses, each with the offer to write a run that does. */
  const { flow, runs } = flowContext();
  const all = $derived(usable(flow.document));
  const ruleNamed = (id: string) => {
    const found = findRule(flow.document, id);
    return found ? ruleWords(flow.document, found.owner, found.rule) : id;
  };
  const ownerName = (owner: Owner) =>
    'place' in owner
      ? placeName(flow.document, owner.place)
      : 'group' in owner
        ? (flow.document.groups[owner.group]?.name ?? owner.group)
        : 'all levels';
  const ends = (id: string) => flow.document.places[id]?.kind === 'ending';

  interface Line {
    key: string;
    words: string;
    use: RunUse;
  }
  /** Lines of what is a level's own, each known as `level/id`. */
  const inLevels = (
    keys: string[],
    nameOf: (document: FlowDocument, level: string, id: string) => string,
    use: (key: string) => RunUse
  ): Line[] =>
    keys.map((key) => {
      const [level, id] = key.split('/') as [string, string];
      return { key, words: `${nameOf(flow.document, level, id)} in ${placeName(flow.document, level)}`, use: use(key) };
    });
  const lists = $derived.by(() => {
    const { unused } = runs;
    if (!unused || runs.of !== flow.document) return [];
    const place = (id: string): Line => ({ key: id, words: placeName(flow.document, id), use: { place: id } });
    const found: { what: string; of: number; lines: Line[] }[] = [
      { what: 'endings', of: all.places.filter(ends).length, lines: unused.places.filter(ends).map(place) },
      { what: 'places', of: all.places.length, lines: unused.places.filter((id) => !ends(id)).map(place) },
      {
        what: 'buttons',
        of: all.buttons.length,
        lines: unused.buttons.map(({ owner, label, rule }) => ({
          key: `${JSON.stringify(owner)} ${label}`,
          words: `${label} in ${ownerName(owner)}`,
          use: { rule }
        }))
      },
      {
        what: 'doors',
        of: all.doors.length,
        lines: unused.doors.map(({ rule, from, to }) => ({
          key: `${rule} ${from} ${to}`,
          words: `from ${placeName(flow.document, from)} to ${placeName(flow.document, to)}`,
          use: { rule, level: from }
        }))
      },
      {
        what: 'objectives',
        of: all.objectives.length,
        lines: inLevels(unused.objectives, objectiveWords, (objective) => ({ objective }))
      },
      {
        what: 'spots',
        of: all.spots.length,
        lines: inLevels(
          unused.spots,
          (document, place, spot) => spotName(document, { place }, spot),
          (spot) => ({ spot })
        )
      },
      {
        what: 'passages',
        of: all.passages.length,
        lines: inLevels(
          unused.passages,
          (document, place, passage) => passageName(document, { place }, passage),
          (passage) => ({ passage })
        )
      },
      {
        what: 'rules',
        of: all.rules.length,
        lines: unused.rules.map((rule) => ({ key: rule, words: ruleNamed(rule), use: { rule } }))
      }
    ];
    return found.filter(({ of }) => of > 0);
  });

  let writing = $state('');
  /** A shortest run that uses something becomes a recorded run of that name. */
  async function write({ key, words, use }: Line) {
    writing = key;
    const { document } = flow;
    const route = await runs.routeTo(document, use);
    writing = '';
    if (flow.document !== document) return;
    const trial = route && playSteps(document, route)?.trial;
    const made = trial && keepRun(document, trial, cut(`Uses ${words}`, 80));
    if (made) flow.edit(made);
    else flow.notice = { bad: true, text: `No player can use this: ${words}. The checks say why.` };
  }
</script>

{#if lists.length > 0}
  <h3>Not used by any run</h3>
  {#each lists as { what, of, lines } (what)}
    <details>
      <summary><b>{lines.length}</b> of {of} {what}</summary>
      <ul>
        {#each lines as line (line.key)}
          <li>
            <span>{line.words}</span>
            <button type="button" class="link" disabled={writing !== ''} onclick={() => write(line)}
              >{writing === line.key ? 'looking…' : 'write a run'}</button
            >
          </li>
        {/each}
      </ul>
    </details>
  {/each}
{/if}

<style>
  h3 {
    margin-top: 10px;
    font-size: 13px;
    font-weight: 700;
  }
  summary {
    cursor: pointer;
    font-size: 12px;
  }
  ul {
    max-height: 180px;
    overflow: auto;
  }
  li {
    display: flex;
    justify-content: space-between;
    gap: 10px;
    padding: 2px 0;
    font-size: 12px;
    border-bottom: 1px solid var(--color-base-300);
  }
  li .link {
    flex: none;
  }
</style>
