import { feedforwards, filters, keeps, laws, shapers, stops } from '../control'
import { choice, name, number, part, parts, toggle } from '../kinds'
import type { Kind, ValuesOf } from '../kinds'
import { tunings } from './tunings'

/** One quantity held at a reference by one law. */
export const loop = {
  name: 'loop',
  says: 'Hold {holds} at {reference} with {law}, as {reads}, pushing {pushes}, {rate#} times a second.',
  about:
    'A sampled loop: reads at its own rate, commands one push (spread over drives by an allocation where it has one) or the reference of another loop, after a computation delay of whole samples.',
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    holds: name({ label: 'held quantity', of: 'held' }),
    reference: choice({
      label: 'reference',
      options: { cue: 'its cue', rest: 'where it rests', command: "another loop's command" },
    }),
    shaping: parts({ label: 'shaping of the reference', kinds: shapers, optional: true }),
    law: part({ label: 'law', kinds: laws }),
    filters: parts({ label: 'filters', kinds: filters, optional: true }),
    reads: choice({ label: 'what it reads', options: { estimated: 'estimated', measured: 'measured', true: 'it truly is' } }),
    pushes: name({ label: 'push', of: 'push' }),
    others: choice({
      label: 'the other loops, while this one is designed',
      options: { rest: 'the others at rest', before: 'those before it closed', trial: 'the others as in the trials' },
      otherwise: 'rest',
    }),
    point: name({ label: 'operating point that it is designed about', of: 'point', optional: true }),
    rate: number({ label: 'sample rate', unit: 'Hz', above: 0, most: 10000 }),
    delay: number({ label: 'computation delay', unit: 'samples', least: 0, most: 20, whole: true }),
    least: number({ label: 'least command', unit: '', optional: true }),
    most: number({ label: 'most command', unit: '', optional: true }),
    fastest: number({ label: 'fastest change of the command', unit: '', above: 0, optional: true, note: 'in a second' }),
    stops: parts({ label: 'protective stops', kinds: stops, optional: true }),
    closed: toggle({ label: 'feedback' }),
    tuning: part({ label: 'tuning', kinds: tunings }),
    keeps: parts({ label: 'what it shall keep', kinds: keeps, optional: true }),
    feedforwards: parts({ label: 'feedforward', kinds: feedforwards, optional: true }),
  },
} as const satisfies Kind

export type LoopValues = ValuesOf<typeof loop>
