/** What a slot of saved games can show besides values, as it is called. */
export const slotParts: Record<string, string> = {
  level: 'Level',
  checkpoint: 'Checkpoint',
  progress: 'Progress',
  time: 'Time played'
};
