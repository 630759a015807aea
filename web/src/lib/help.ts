/** The pages in the order of reading, by the name in their address. */
export const pages = [
  { name: 'start', title: 'The first ten minutes' },
  { name: 'lane', title: 'The lane' },
  { name: 'sentences', title: 'Sentences' },
  { name: 'conditions', title: 'Conditions' },
  { name: 'levels', title: 'Levels and orders' },
  { name: 'inside', title: 'Inside a level' },
  { name: 'plan', title: 'The plan' },
  { name: 'values', title: 'Values' },
  { name: 'trial', title: 'Trial and runs' },
  { name: 'findings', title: 'Reading the checks' },
  { name: 'checks', title: 'All checks' },
  { name: 'command-line', title: 'Command line' },
  { name: 'game', title: 'Into the game' },
  { name: 'repository', title: 'Flows in a repository' },
  { name: 'together', title: 'Together' },
  { name: 'flow-format', title: 'The file format' }
] as const;
