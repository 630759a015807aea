/** A gamepad, where the browser gives one: it walks the controls like Tab and uses the one it is on. */

/** The standard mapping of the Gamepad API (W3C): the buttons and axes that are used here. */
const use = 0;
const up = [12, 14];
const down = [13, 15];

export interface PadState {
  buttons: readonly boolean[];
  axes: readonly number[];
}

export type PadAct = { move: 1 | -1 } | { use: true } | { button: number };

/** What came to be pressed between two looks at a pad. A stick counts as pressed beyond half of its way. */
export function padActs(before: PadState | undefined, now: PadState): PadAct[] {
  const pressed = (index: number) => (now.buttons[index] ?? false) && !(before?.buttons[index] ?? false);
  const side = ({ axes }: PadState, axis: number) => (Math.abs(axes[axis] ?? 0) > 0.5 ? Math.sign(axes[axis]!) : 0);
  const acts: PadAct[] = [];
  for (const axis of [0, 1]) {
    const to = side(now, axis);
    if (to !== 0 && to !== (before ? side(before, axis) : 0)) acts.push({ move: to as 1 | -1 });
  }
  now.buttons.forEach((_, index) => {
    if (!pressed(index)) return;
    if (up.includes(index)) acts.push({ move: -1 });
    else if (down.includes(index)) acts.push({ move: 1 });
    else acts.push(index === use ? { use: true } : { button: index });
  });
  return acts;
}

/** What is held on the pads as by arrow keys: the cross, or the first stick beyond half of its way. */
export function padHeld(): { left?: true; right?: true; up?: true; down?: true } {
  const held: ReturnType<typeof padHeld> = {};
  for (const pad of navigator.getGamepads()) {
    if (!pad) continue;
    const [x = 0, y = 0] = pad.axes;
    const on = (index: number) => pad.buttons[index]?.pressed ?? false;
    if (on(12) || y < -0.5) held.up = true;
    if (on(13) || y > 0.5) held.down = true;
    if (on(14) || x < -0.5) held.left = true;
    if (on(15) || x > 0.5) held.right = true;
  }
  return held;
}

/**
 * Looks at the pads with every frame, until it is told to stop. `key` is offered "pad 1" for button 1, as a rule may name
 * it; the first button uses the control that has the focus, unless a rule names it.
 */
export function padControls(at: {
  scene: () => HTMLElement | undefined;
  key: (names: string[]) => boolean;
  isWalked: () => boolean;
}): () => void {
  const known = new Map<number, PadState>();
  let frame = 0;
  const act = (what: PadAct) => {
    const controls = [...(at.scene()?.querySelectorAll<HTMLElement>('button.control:not(:disabled)') ?? [])];
    const index = controls.indexOf(document.activeElement as HTMLElement);
    if ('move' in what) {
      // the player is walked by it
      if (at.isWalked()) return;
      const to = index < 0 ? (what.move > 0 ? 0 : controls.length - 1) : index + what.move;
      controls[(to + controls.length) % Math.max(1, controls.length)]?.focus();
    } else if (at.key([`pad ${'use' in what ? use : what.button}`])) return;
    else if ('use' in what) (controls[index] ?? controls[0])?.click();
  };
  const look = () => {
    for (const pad of navigator.getGamepads()) {
      if (!pad) continue;
      const now = { buttons: pad.buttons.map(({ pressed }) => pressed), axes: [...pad.axes] };
      for (const what of padActs(known.get(pad.index), now)) act(what);
      known.set(pad.index, now);
    }
    frame = requestAnimationFrame(look);
  };
  frame = requestAnimationFrame(look);
  return () => cancelAnimationFrame(frame);
}
