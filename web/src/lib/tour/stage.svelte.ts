const key = 'tour';

/** How far the tour has come in this browser: offered once, taken, put aside or left. */
export class TourStage {
  at: number = $state(0);
  is: 'offered' | 'going' | 'aside' | 'left' = $state('offered');

  constructor() {
    const stored = localStorage.getItem(key);
    if (stored === null) return;
    this.is = stored === 'left' ? 'left' : 'aside';
    this.at = Math.max(0, Number(stored) || 0);
  }

  go(to: number): void {
    this.at = to;
    this.is = 'going';
    localStorage.setItem(key, String(to));
  }

  leave(): void {
    this.is = 'left';
    this.at = 0;
    localStorage.setItem(key, 'left');
  }
}
