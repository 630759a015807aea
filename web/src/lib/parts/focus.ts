/** Where the keys go: never to nothing. */

/** The tile that the lane is walked from: the selected one, else the first. */
export function focusLane(): void {
  document.querySelector<HTMLElement>('.lane .face[tabindex="0"], .lane .face')?.focus();
}

/** Back to what had the focus, where nothing has it now; to the lane where that is gone. */
export function returnFocus(before: Element | null): void {
  if (document.activeElement && document.activeElement !== document.body) return;
  if (before instanceof HTMLElement && before.isConnected && before !== document.body) before.focus();
  if (document.activeElement === document.body) focusLane();
}
