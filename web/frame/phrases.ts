/** A word of ours, or a sign of the trade, and what it means. */
export interface PhraseEntry {
  readonly word: string
  readonly means: string
}

/** The phrase book: in the order of the alphabet where it is shown. */
export const phrases = {
  bargain: {
    word: 'bargain',
    means: 'What a change of a design bought, what it cost, and what it left as it was, against a pinned one.',
  },
  beforehand: {
    word: 'beforehand',
    means:
      'What a loop carries without waiting for an error: feedforward from its reference, its model, or a measured disturbance.',
  },
  calmMap: {
    word: 'calm map',
    means:
      'Every design of one law at once: crossover to the right, phase in hand upward. Colours say which is calm, brisk or unstable; lines say where a limit is met. Click a place, and the loop has that design.',
  },
  crossover: {
    word: 'crossover',
    means:
      'The frequency at which the loop gain is 1: what is slower is held, what is faster is not. About the inverse of the time in which the loop answers.',
  },
  cue: { word: 'cue', means: 'Anything that happens in a trial at a time: a command to a loop, or a push of the machine.' },
  damping: {
    word: 'ζ',
    means:
      'Damping ratio of a mode: at 1 it no longer swings, at 0.7 it overshoots by 5 %, at 0.1 it takes some seven swings to die away.',
  },
  inHand: {
    word: 'in hand',
    means:
      'Phase margin: how much later the loop may answer at its crossover before it swings for ever. 60° is calm, 30° is little.',
  },
  ladder: {
    word: 'bandwidth ladder',
    means:
      'Loops as rungs at their crossover, inner ones above outer ones. A loop should be about three times as fast as the one that commands it.',
  },
  limiter: { word: 'limiter', means: 'What a limit took away from what the law asked.' },
  phaseAccount: {
    word: 'phase account',
    means:
      'Where the phase at the crossover goes: machine, inner loops, sampling and delay, filters, law. What is left over -180° is in hand.',
  },
  pid: {
    word: 'PID',
    means:
      'A law of three terms: the error (P), its integral (I), which ends what would be left over, and the rate (D), which brakes.',
  },
  realism: {
    word: 'realism layer',
    means:
      'One effect, such as dry friction or rotor lag, that can be switched off as a whole. Off, something simpler stands in.',
  },
  sensitivityPeak: {
    word: 'peak',
    means: 'Largest sensitivity: how much the loop makes a disturbance worse where it does so most. Below 2 is common practice.',
  },
  settling: { word: 'settling', means: 'Time until what is held stays within 2 % of the travel around where it ends.' },
  station: { word: 'station', means: 'One of the main views: machine, loops, trials, studies, rig.' },
  tray: { word: 'tray', means: 'Where pinned designs and runs lie, each under a letter, to be compared with what comes after.' },
  whoPushes: {
    word: 'who pushes',
    means:
      'The command taken apart into what asks for it: error, integral, rate, beforehand. What is above 0 pushes up, what is below pulls down.',
  },
} as const satisfies Readonly<Record<string, PhraseEntry>>

export type PhraseName = keyof typeof phrases
