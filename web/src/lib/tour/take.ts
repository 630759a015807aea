import { goto } from '$app/navigation';
import { resolve } from '$app/paths';
import type { OpenFlow } from '$lib/flow/open-flow.svelte.ts';
import type { View } from '$lib/flow/view.svelte.ts';
import type { TourStage } from './stage.svelte.ts';
import { steps } from './steps.ts';

/** Goes to a step of the tour, in the view that it speaks of. */
export async function takeTour(flow: OpenFlow, view: View, stage: TourStage, to: number): Promise<void> {
  stage.go(to);
  const target = (steps[to] ?? steps.at(-1)!).view;
  view.shown = undefined;
  await goto(resolve('/flows/[id]/[[view=view]]', target === 'lane' ? { id: flow.id } : { id: flow.id, view: target }), {
    keepFocus: true
  });
}
