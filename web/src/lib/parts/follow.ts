/** Follows a pressed pointer until it is let go; `end` gets nothing when the press was taken away. */
export function follow(move: (event: PointerEvent) => void, end: (event: PointerEvent | undefined) => void): void {
  const stop = (event: PointerEvent) => {
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', stop);
    removeEventListener('pointercancel', stop);
    end(event.type === 'pointercancel' ? undefined : event);
  };
  addEventListener('pointermove', move);
  addEventListener('pointerup', stop);
  addEventListener('pointercancel', stop);
}
