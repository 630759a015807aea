/** The plan that is drawn: what is drawn shows at once and becomes an edit as soon as what follows from it is known. */
import { planAfter, setPlan } from '@crow-lane/core/document/edits/plan';
import type { Cell, FlowDocument, Id, Level, Plan } from '@crow-lane/core/document/types';
import type { Derived } from '@crow-lane/core/plan/derive';
import { alreadyDerived } from '@crow-lane/core/plan/grown';
import type { Reach, Survey } from '@crow-lane/core/plan/reach';
import type { Passes } from '@crow-lane/core/times/crossing';
import type { Times } from '@crow-lane/core/times/times';
import type { OpenFlow } from '$lib/flow/open-flow.svelte.ts';
import { Asker } from '$lib/parts/asker.ts';
import type { PlanAnswer, PlanTask } from './plan.worker.ts';

const asker = () =>
  new Asker<PlanTask, PlanAnswer>(() => new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' }));

interface Stroke {
  label: string;
  run: (plan: Plan) => Plan;
}

/** What is known of a plan. */
interface Known {
  plan: Plan;
  derived: Derived;
  survey: Survey;
}

export class Drawing {
  private readonly worker = asker();
  /** Best times and ways past patrols may take longer than drawing goes on: they are sought beside it, and given up where they are overtaken. */
  private readonly seeking = { times: asker(), passes: asker() };
  private readonly sought = new Set<'times' | 'passes'>();
  /** How many states have been looked at for what is being sought. */
  looked: { times?: number | undefined; passes?: number | undefined } = $state.raw({});
  /** Strokes that are not edits yet. */
  private strokes: Stroke[] = $state.raw([]);
  private keeping = false;
  private stopped = false;
  /** What follows from the plan that was last derived, and what can be seen of it as a whole. */
  known: Known | undefined = $state.raw(undefined);
  /** Why nothing is known. */
  failed: string | undefined = $state(undefined);

  constructor(
    private readonly flow: OpenFlow,
    readonly id: Id
  ) {}

  get level(): Level | undefined {
    const place = this.flow.document.places[this.id];
    return place?.kind === 'level' ? place : undefined;
  }

  /** The plan with all that has been drawn. */
  readonly plan: Plan | undefined = $derived.by(() => {
    const plan = this.level?.plan;
    return plan && this.strokes.reduce((now, { run }) => run(now), plan);
  });

  /** Whether what is shown is ahead of what is known. */
  readonly isAhead: boolean = $derived(this.known?.plan !== this.plan);

  /** Draws: `run` gives another plan for one, whatever others have drawn in it meanwhile. */
  draw(label: string, run: (plan: Plan) => Plan): void {
    if (!this.plan || run(this.plan) === this.plan) return;
    this.strokes = [...this.strokes, { label, run }];
    void this.keep();
  }

  private withPlan(plan: Plan): FlowDocument {
    const { document } = this.flow;
    return { ...document, places: { ...document.places, [this.id]: { ...this.level!, plan } } };
  }

  private async keep(): Promise<void> {
    if (this.keeping) return;
    this.keeping = true;
    try {
      let slow = false;
      while (this.strokes.length > 0 && this.level?.plan) {
        const { plan } = this.level;
        // on a plan that takes its time, what has been drawn meanwhile is one edit
        if (slow) this.strokes = [joined(this.strokes)];
        const stroke = this.strokes[0]!;
        // as the edit will leave it: what is derived before is found again, and the page does not wait
        const next = planAfter(plan, stroke.run(plan));
        const began = performance.now();
        const found = await this.derive(next);
        slow = performance.now() - began > slowest;
        // others have drawn meanwhile
        if (this.level?.plan !== plan) continue;
        const document = this.withPlan(next);
        if (found) alreadyDerived(document, document.places[this.id] as Level, found.derived);
        this.strokes = this.strokes.slice(1);
        this.flow.edit(setPlan(this.flow.document, this.id, next, stroke.label));
        const { plan: now } = this.level;
        if (found && now) this.known = { ...found, plan: now };
      }
    } finally {
      this.keeping = false;
    }
  }

  private async derive(plan: Plan): Promise<Omit<Known, 'plan'> | undefined> {
    if (this.stopped) return undefined;
    const answer = await this.worker.ask({
      ask: 'derive',
      document: bare(this.withPlan(plan), this.id),
      level: this.id
    } as PlanTask);
    this.failed = answer?.failed;
    return answer?.derived && answer.survey ? { derived: answer.derived, survey: answer.survey } : undefined;
  }

  /** Learns what follows from the plan as it is now, where it is not known. */
  async look(): Promise<void> {
    const { plan } = this;
    if (!plan || this.known?.plan === plan || this.strokes.length > 0) return;
    const found = await this.derive(plan);
    if (found && this.plan === plan) this.known = { ...found, plan };
  }

  /** Where the player gets from a cell. */
  async reach(cell: Cell): Promise<Reach | undefined> {
    const { plan } = this;
    if (!plan) return undefined;
    return (
      await this.worker.ask({ ask: 'reach', document: bare(this.withPlan(plan), this.id), level: this.id, cell } as PlanTask)
    )?.reach;
  }

  /** How long the level takes at the least; undefined where no rule wins it. */
  async times(): Promise<Times | undefined> {
    return (await this.seek('times'))?.times;
  }

  /** How the player comes past the patrols; undefined where there are none. */
  async passes(): Promise<Passes | undefined> {
    return (await this.seek('passes'))?.passes;
  }

  private async seek(ask: 'times' | 'passes'): Promise<PlanAnswer | undefined> {
    const { plan } = this;
    if (!plan || this.stopped) return undefined;
    if (this.sought.has(ask)) this.seeking[ask].stop();
    this.sought.add(ask);
    const answer = await this.seeking[ask].ask(
      { ask, document: this.withPlan(plan), level: this.id } as PlanTask,
      (looked) => (this.looked = { ...this.looked, [ask]: looked })
    );
    if (!answer) return undefined;
    this.sought.delete(ask);
    this.looked = { ...this.looked, [ask]: undefined };
    return answer;
  }

  /** What has been drawn is still kept. */
  stop(): void {
    this.stopped = true;
    this.worker.stop();
    for (const each of Object.values(this.seeking)) each.stop();
  }
}

/** In milliseconds: when a plan takes longer than this, strokes are joined. */
const slowest = 700;

function joined(strokes: Stroke[]): Stroke {
  const [first, ...rest] = strokes;
  if (rest.length === 0) return first!;
  const label = rest.length === 1 ? `${first!.label}, ${rest[0]!.label}` : `${first!.label} and ${rest.length} strokes more`;
  return { label, run: (plan) => strokes.reduce((now, { run }) => run(now), plan) };
}

/** A document with one level alone: what a worker has to be told. */
function bare(document: FlowDocument, id: Id): FlowDocument {
  const { spots: _spots, passages: _passages, ...level } = document.places[id] as Level;
  const places = { [id]: { ...level, spots: {}, passages: {}, rules: [] } };
  return { movement: document.movement, places } as unknown as FlowDocument;
}
