import { choice, name, number, part, parts, table, toggle } from '../kinds'
import type { Kind } from '../kinds'
import { feedforwards } from './feedforwards'
import { filters } from './filters'
import { keeps } from './keeps'
import { laws } from './laws'
import { shapers } from './shapers'
import { stops } from './stops'

/** The third gain of a law unless its requirement says otherwise: common practice, no source. */
export const usualIntegralCorner = 0.125

/** Gains follow from where the loop shall cross over and how much phase shall be left. */
export const requirement = {
  name: 'requirement',
  says: 'Cross over at {crossover} with {phaseMargin} in hand.',
  about:
    'Gains are solved so that the loop crosses over at this frequency with this phase margin, the real delay and lags counted. A third gain follows the stated rule.',
  slots: {
    crossover: number({ label: 'crossover', unit: 'rad/s', above: 0, most: 1e4 }),
    phaseMargin: number({ label: 'phase margin', unit: 'rad', above: 0, most: 3 }),
    integralCorner: number({
      label: 'integral corner',
      unit: '',
      above: 0,
      most: 1,
      otherwise: usualIntegralCorner,
      note: 'as a share of the crossover; PID only',
    }),
  },
} as const satisfies Kind

export const typedGains = {
  name: 'typedGains',
  says: 'Gains as typed.',
  about: 'The gains as given, in units of the push per unit of the held quantity (and its integral and rate).',
  slots: {
    kp: number({ label: 'proportional gain', unit: '', otherwise: 0 }),
    ki: number({ label: 'integral gain', unit: '', otherwise: 0 }),
    kd: number({ label: 'rate gain', unit: '', otherwise: 0 }),
    states: table({
      label: 'gains on signals',
      columns: [{ label: 'gain', unit: '' }],
      fill: [],
      optional: true,
      note: 'state feedback: one row for each signal, in its order',
    }),
    crossover: number({ label: 'crossover they were made for', unit: 'rad/s', above: 0, most: 1e4, optional: true }),
    phaseMargin: number({ label: 'phase margin they were made for', unit: 'rad', above: -3.2, most: 3.2, optional: true }),
    made: table({
      label: 'gains that were made for it',
      columns: [{ label: 'gain', unit: '' }],
      fill: [],
      optional: true,
      note: 'on the error, its integral, its rate, then on signals; others were typed since',
    }),
  },
} as const satisfies Kind

/** Gains follow from how fast the closed loop shall follow. */
export const followWithin = {
  name: 'followWithin',
  says: 'Follow within {timeConstant}.',
  about:
    'Gains by rules for lags, delay and up to two integrators, from the time constant of the closed loop: the half rule, then table 1 of S. Skogestad, Journal of Process Control 13 (2003). A time constant below the delay leaves little margin.',
  slots: { timeConstant: number({ label: 'time constant', unit: 's', above: 0, most: 1e4 }) },
} as const satisfies Kind

/** Gains follow from the edge at which the loop would swing for ever. */
export const edgeOfSwinging = {
  name: 'edgeOfSwinging',
  says: 'Gains from the edge at which it would swing for ever.',
  about:
    'The gain and period at which a proportional loop swings for ever, from the linear model, and the classical table of J. G. Ziegler & N. B. Nichols, Transactions of the ASME 64 (1942). Quick to get; it leaves about a quarter of each swing (common practice, no source), so look at the margins.',
  slots: {},
} as const satisfies Kind

/** Gains follow from a relay experiment on the linear model. */
export const relayExperiment = {
  name: 'relayExperiment',
  says: 'Let a relay of {amplitude} swing it, and take the table of {table}.',
  about:
    'A relay in place of the law makes the loop swing by itself; the swing gives the gain and the period at which a proportional loop swings for ever. K. J. Åström & T. Hägglund, Automatica 20 (1984). The classical tables are quick to get and leave little damping (common practice, no source), so look at the margins.',
  slots: {
    amplitude: number({ label: 'amplitude of the relay', unit: '', above: 0, otherwise: 1 }),
    hysteresis: number({ label: 'hysteresis', unit: '', least: 0, otherwise: 0 }),
    table: choice({
      label: 'table',
      options: { zieglerNichols: 'Ziegler and Nichols', tyreusLuyben: 'Tyreus and Luyben' },
      otherwise: 'zieglerNichols',
    }),
  },
} as const satisfies Kind

/** Gains follow from a step of the push with the loop open, on the linear model. */
export const stepExperiment = {
  name: 'stepExperiment',
  says: 'Let the open loop answer to a step of {size}, and take the table of {table}.',
  about:
    'The answer to a step of the push is taken for a lag with delay, from where it has come to 28 and 63 % (C. L. Smith, Digital Computer Process Control, 1972, from memory), or for an integrator with delay. The tables are meant for delays of a tenth of the lag up to the lag itself (common practice, no source).',
  slots: {
    size: number({ label: 'size of the step', unit: '', above: 0, otherwise: 1 }),
    table: choice({
      label: 'table',
      options: { zieglerNichols: 'Ziegler and Nichols', cohenCoon: 'Cohen and Coon', skogestad: 'Skogestad' },
      otherwise: 'zieglerNichols',
    }),
  },
} as const satisfies Kind

/** Gains of state feedback follow from what may deviate, and by how much at most. */
export const weights = {
  name: 'weights',
  says: 'Weigh every signal by the most that it may deviate, the command by {most}.',
  about:
    'The state feedback with the least sum of squares, each signal over its largest acceptable deviation, the command over its own: Bryson & Ho, Applied Optimal Control, 1975 (from memory). The sampled machine with its hold is weighed, its lags left out; the margins count everything.',
  slots: {
    deviations: table({
      label: 'largest acceptable deviations',
      columns: [{ label: 'deviation', unit: '' }],
      fill: [[1]],
      note: 'what is held first, then each signal in its order',
    }),
    most: number({ label: 'largest acceptable command', unit: '', above: 0 }),
    integral: number({ label: 'largest acceptable integral of the error', unit: '', above: 0, otherwise: 1 }),
  },
} as const satisfies Kind

/** Gains of state feedback follow from where the closed-loop poles shall be. */
export const poleLocations = {
  name: 'poleLocations',
  says: 'Put the poles at {poles}.',
  about:
    'The state feedback with these closed-loop poles, one for each signal fed back, of the sampled machine with its lags left out. Continuous poles in rad/s; complex ones in conjugate pairs.',
  slots: {
    poles: table({
      label: 'poles',
      columns: [
        { label: 'real part', unit: 'rad/s' },
        { label: 'imaginary part', unit: 'rad/s' },
      ],
      fill: [[-1, 0]],
    }),
  },
} as const satisfies Kind

export const tunings = [
  requirement,
  typedGains,
  followWithin,
  edgeOfSwinging,
  relayExperiment,
  stepExperiment,
  weights,
  poleLocations,
]

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
