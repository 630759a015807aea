/** Where the keys go: never to nothing. */

/** The tile that the lane is walked from: the selected one, else the first. */
export function focusLane(tries = 400): void {
  const selected = document.querySelector<HTMLElement>('.lane .face[tabindex="0"]');
  const any = selected ?? document.querySelector<HTMLElement>('.lane .face');
  // one that was just made is selected a moment before it is drawn
  if (selected || tries === 0) any?.focus();
  else if (any) setTimeout(() => nothingFocused() && focusLane(tries - 1), 25);
}

const nothingFocused = () => !document.activeElement || document.activeElement === document.body;

/** Back to what had the focus, where nothing has it now; to the lane where that is gone. */
export function returnFocus(before: Element | null): void {
  if (!nothingFocused()) return;
  // a tile that is no longer the selected one has given way to what was just made
  const passed = before?.matches('.lane .face[tabindex="-1"]');
  if (before instanceof HTMLElement && before.isConnected && before !== document.body && !passed) before.focus();
  if (nothingFocused()) focusLane();
}

/**
 * A designer who works by keys keeps the place: where the control with the focus is removed, its part of the page gets the
 * focus, and Tab leads on from there. Gives the function that stops it.
 */
export function holdFocus(root: HTMLElement): () => void {
  let chain: Element[] = [];
  const note = ({ target }: FocusEvent) => {
    chain = [];
    // a click leaves the focus to nothing, where the keys are the lane's
    if (!(target as Element).matches(':focus-visible')) return;
    for (let at = target as Element | null; at; at = at.parentElement) chain.push(at);
  };
  const look = () => {
    if (chain[0]?.isConnected !== false || !nothingFocused()) return;
    const home = chain.find((each) => each.isConnected && each.matches('section, #desk, .shown')) as HTMLElement | undefined;
    if (!home) return;
    home.tabIndex = -1;
    home.focus({ preventScroll: true });
  };
  const observer = new MutationObserver(look);
  root.addEventListener('focusin', note);
  observer.observe(root, { childList: true, subtree: true });
  return () => {
    root.removeEventListener('focusin', note);
    observer.disconnect();
  };
}
