/** The tour of the demo with faults: what to look at and to do, step by step. */
import type { Report } from '@crow-lane/core/report/report';
import type { FlowDocument } from '@crow-lane/core/document/types';

export interface TourStep {
  title: string;
  /** What there is to see, and what to do. */
  text: string[];
  /** The view it happens in. */
  view: 'lane' | 'levels' | 'values' | 'trial' | 'checks';
  /** Whether what is asked for has been done; steps without it only want to be read. */
  done?: (now: { document: FlowDocument; report: Report | undefined }) => boolean;
}

const holds = (report: Report | undefined, check: string, subject: string) =>
  report !== undefined &&
  !report.checks.some((each) => each.check === check && each.subject === subject && each.outcome === 'fails');

export const steps: TourStep[] = [
  {
    title: 'A whole game on one picture',
    view: 'lane',
    text: [
      'A lamplighter relights a town, street by street. From left to right runs the order of play; endings lie on top, menus at the bottom.',
      'This copy of the game has a mistake of every kind. The head of the page already says so: not every level can be completed. Let us find out why.'
    ]
  },
  {
    title: 'Three answers',
    view: 'checks',
    text: [
      'After every change it is proved whether each level can be completed, each place is reached, and whether the player can get stuck.',
      'Press the first answer. On the right you get the findings behind it, each at its cause.'
    ]
  },
  {
    title: 'A level that cannot be won',
    view: 'checks',
    text: [
      'Press the first answer again, so that all causes are listed. One rule in Chapel Rise "asks for a number that never occurs": 4 candles, and there are 3. One was taken out, and the rule was forgotten.',
      'Six more findings follow from this. Its best fix has been tried already, so you know what it fixes. Use "Ask for 3 instead of 4".'
    ],
    done: ({ report }) => holds(report, 'level-completable', 'chapel')
  },
  {
    title: 'What hung on it',
    view: 'checks',
    text: [
      'Lighthouse, the ending and the credits were out of reach only because the player never got past the chapel. With this one fix all of them are reached.',
      'One place is still not: "Best rounds". No rule leads to it. Its fix adds the button on the title.'
    ],
    done: ({ report }) => holds(report, 'place-reached', 'scores')
  },
  {
    title: 'A trap',
    view: 'checks',
    text: [
      'Press the third answer. "The player can get stuck in Old well": it leads only to itself.',
      'Press "Show on the lane" and follow the numbered arcs. Then come back here and give the well a way out.'
    ],
    done: ({ report }) => holds(report, 'moves-on', 'well')
  },
  {
    title: 'Be there',
    view: 'checks',
    text: [
      'Open "The rule when Continue is pressed in Title leads nowhere", then "the route", and press "be there" at its first step.',
      'You are now the player, one press before the fault. Try it: the tape says why nothing happens. Then fix it from the checks.'
    ],
    done: ({ report }) => holds(report, 'never-stranded', 'continue')
  },
  {
    title: 'Seen only in the second game',
    view: 'values',
    text: [
      'Lives should be 3 when a game begins. Look at Quay Street in "Carried on arrival": in later games it can be less, because nothing begins a new run.',
      'In the checks this is "begins a run with values left from an earlier one". Use "Begin a new run in this rule".'
    ],
    done: ({ report }) => holds(report, 'fresh-start', 'begin')
  },
  {
    title: 'Any moment, at once',
    view: 'trial',
    text: [
      'Press "Begin elsewhere", pick Net Lofts, and choose how the player arrives: with one life left, say. No playing up to there.',
      'Lose once, and give the trial a name under Runs. From now on it is played again after every edit, and tells you when it goes differently.'
    ],
    done: ({ document }) => Object.keys(document.runs).length > 0
  },
  {
    title: 'Meant to be so',
    view: 'checks',
    text: [
      'Not every finding is a fault. The ferryman wants only three of four lamps: that was accepted, with the reason.',
      'Accepted findings come back when what they rest on changes. Accept one that you would keep, or go on.'
    ]
  },
  {
    title: 'The rest is yours',
    view: 'checks',
    text: [
      'About twenty findings are left, each with its reason and most with a fix. "Compare with" shows what you have fixed so far, and by which edit.',
      'Export has a page to print for the others in your team. Help, at the top, explains each view.'
    ]
  }
];
