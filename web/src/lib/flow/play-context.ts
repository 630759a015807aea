import { createContext } from 'svelte';
import type { FlowDocument, Id } from '@crow-lane/core/document/types';
import type { GroundPicture } from '@crow-lane/core/lane/ground-picture';
import type { Session } from './session.svelte.ts';

export interface PlayContext {
  flow: { readonly document: FlowDocument };
  session: Session;
  /** The picture of a level's inside. */
  pictureOf: (level: Id) => GroundPicture;
  /** Only what a player of the game meets is shown: nothing of what would happen, and nothing that a designer notes. */
  plain?: true;
}

/** What is played, for the parts that show it: in a trial, and on a page to play. */
export const [playContext, setPlayContext] = createContext<PlayContext>();
