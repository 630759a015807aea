/** A level's plan with all that has to be known of it to derive spots and passages (docs/flow-format.md, section 13). */
import type { Ability, FlowDocument, Id, Level, Movement, Plan } from '../document/types.ts';

/** How the player moves, with everything said. */
export interface Moving {
  above: { speed: number; diagonal: boolean };
  side: { speed: number; up: number; across: number; drop: number | undefined; tall: number };
  abilities: Record<Id, Ability>;
}

export const usualMovement: Moving = {
  above: { speed: 4, diagonal: false },
  side: { speed: 4, up: 2, across: 3, drop: undefined, tall: 1 },
  abilities: {}
};

/** How the player moves in a level: its own movement before that of the document, key by key, and before the usual one. */
export function movementIn({ movement: all = {} }: FlowDocument, { movement: own = {} }: Level): Moving {
  const said: Movement = { ...all, ...own };
  return {
    above: { ...usualMovement.above, ...said.above },
    side: { ...usualMovement.side, ...said.side },
    abilities: said.abilities ?? {}
  };
}

export interface Drawn {
  plan: Plan;
  movement: Moving;
  /** The pieces that being in their cell touches: exits, hazards, foes, checkpoints, switches, others. */
  acts: ReadonlySet<Id>;
}
