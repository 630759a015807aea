/** What a slot of saved games can show besides values, as it is called. */
export const slotParts: Record<string, string> = {
  level: 'Level',
  checkpoint: 'Checkpoint',
  progress: 'Progress',
  time: 'Time played'
};

/** What is shown where nothing is said. */
export const usuallyShown: readonly string[] = ['level', 'progress'];

/** As many saved games as there can be side by side. */
export const mostSlots = 9;
