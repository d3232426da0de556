import { choice, name, number, part, parts, toggle } from '../kinds'
import type { Kind } from '../kinds'
import { trialLayers } from '../machine'
import { checks } from './checks'
import { cues } from './cues'
import { hands } from './hands'
import { startKinds } from './starts'
import { chartForPrint, watches } from './watches'

/** One number of the machine as it truly is in this trial, while loops and estimators keep the document's. */
export const override = {
  name: 'override',
  says: 'In this trial {parameter} is {how} {amount}, and the model does not know.',
  about:
    'Changes a number of the simulated machine only, or a parameter of the document with every number of the machine that is made of it; loops, estimators, allocation and prediction keep the number of the document.',
  slots: {
    parameter: name({ label: 'number or parameter', of: 'parameter' }),
    how: choice({ label: 'how', options: { times: 'its value times', set: 'set to' } }),
    amount: number({ label: 'amount', unit: '' }),
  },
} as const satisfies Kind

/** A signal, and a window of the run. */
const signalOverTime = {
  signal: name({ label: 'signal', of: 'signal' }),
  from: number({ label: 'from', unit: 's', least: 0, most: 1e5 }),
  to: number({ label: 'to', unit: 's', above: 0, most: 1e5 }),
} as const

/** What is asked about the gap between simulation and prediction of a trial. */
export const gapAsked = {
  name: 'gapAsked',
  says: 'Of {signal}, from {from} to {to}:',
  about: 'The signal and the window of which the gap between simulation and prediction is accounted for; it changes no run.',
  slots: signalOverTime,
} as const satisfies Kind

/** How the spectrum of what is read is made. */
export const spectrumAsked = {
  name: 'spectrumAsked',
  says: 'Through a {window} window, the mean of {pieces}.',
  about:
    'How the power over frequency is told: what weighs the samples of a piece, over how many pieces it is averaged, and the signal with which it may go together.',
  slots: {
    window: choice({ label: 'window', options: { hann: 'Hann', rectangular: 'rectangular' }, otherwise: 'hann' }),
    pieces: choice({
      label: 'averaged over',
      options: { one: 'one piece', few: 'about 8 pieces', many: 'about 32 pieces' },
      otherwise: 'few',
    }),
    other: name({ label: 'with', of: 'signal', optional: true }),
  },
} as const satisfies Kind

/** What a run is read for between two instants. */
export const spanAsked = {
  name: 'spanAsked',
  says: 'From {from} to {to}, {signal}',
  about: 'The window and the signal of which figures, spectrum and histogram are told; it changes no run.',
  slots: { ...signalOverTime, spectrum: part({ label: 'its spectrum', kinds: [spectrumAsked], optional: true }) },
} as const satisfies Kind

/** A number that may be another than the document has. */
export const askedNumber = {
  name: 'askedNumber',
  says: '{number} may be another.',
  about: 'A number of the machine or a parameter that is fitted to a measured record.',
  slots: { number: name({ label: 'number or parameter', of: 'text' }) },
} as const satisfies Kind

/** A column of a measured record, and the signal that it tells. */
export const mappedColumn = {
  name: 'mappedColumn',
  says: '{column} is {sign} {signal}, a unit of it {unit}.',
  about:
    'Which signal of the trial a column of the record is. Its unit may carry a factor: 0.57 N where one of it is 0.57 N. Words, such as modes, are told in a lane of their own.',
  slots: {
    column: name({ label: 'column', of: 'text' }),
    signal: name({ label: 'signal', of: 'signal', optional: true }),
    unit: name({ label: 'unit', of: 'text', optional: true }),
    sign: choice({ label: 'sign', options: { plus: '+', minus: '−' }, otherwise: 'plus' }),
  },
} as const satisfies Kind

/** What a rig or another program recorded of the same trial. */
export const measuredRecord = {
  name: 'measuredRecord',
  says: '{file}, its time in {timeUnit} in {time}, is late by {late}.',
  about:
    'A record of the trial from outside, such as a table that a rig wrote, with what its columns are. It changes no run: runs are compared with it.',
  slots: {
    file: name({ label: 'file', of: 'text' }),
    data: name({ label: 'what it holds', of: 'text' }),
    time: name({ label: 'column of time', of: 'text' }),
    timeUnit: name({ label: 'unit of time', of: 'text' }),
    late: number({ label: 'it is late by', unit: 's', least: -1e5, most: 1e5 }),
    columns: parts({ label: 'columns', kinds: [mappedColumn] }),
  },
} as const satisfies Kind

/** What is asked about the difference between simulation and a measured record of a trial. */
export const recordAsked = {
  name: 'recordAsked',
  says: 'Against {record}, from {from} to {to}:',
  about:
    'The measured record that the simulation is compared with, the window, and the numbers that may be others: none said, those are looked for that explain most.',
  slots: {
    record: name({ label: 'record', of: 'text' }),
    from: number({ label: 'from', unit: 's', least: 0, most: 1e5 }),
    to: number({ label: 'to', unit: 's', above: 0, most: 1e5 }),
    numbers: parts({ label: 'numbers', kinds: [askedNumber], optional: true }),
  },
} as const satisfies Kind

export const realism = {
  name: 'realism',
  says: 'with these realism layers on',
  about: 'Which effects of the machine and of the software around it act in the trial.',
  slots: Object.fromEntries(trialLayers.map((layer) => [layer.name, toggle({ label: layer.label })])),
} satisfies Kind

export const trial = {
  name: 'trial',
  says: 'Run {machine} until {after} after the last cue, {method} {step}, seed {seed}.',
  about: 'A run of the full nonlinear machine with its loops, from its operating point.',
  slots: {
    title: name({ label: 'title', of: 'text' }),
    machine: name({ label: 'machine', of: 'machine' }),
    scene: name({ label: 'scene', of: 'scene', optional: true }),
    cues: parts({ label: 'cues', kinds: cues }),
    after: number({ label: 'time after the last cue', unit: 's', above: 0, most: 3600 }),
    method: choice({
      label: 'integration',
      options: {
        chosen: 'steps chosen for its modes, at most',
        fixed: 'fixed steps of',
        adaptive: 'adaptive steps, at most',
        implicit: 'implicit steps for stiff machines, at most',
      },
    }),
    step: number({ label: 'plant step', unit: 's', least: 1e-5, most: 0.1 }),
    seed: number({ label: 'seed', unit: '', least: 0, most: 4294967295, whole: true }),
    overrides: parts({ label: 'trial-only changes', kinds: [override] }),
    starts: parts({ label: 'what it starts with', kinds: startKinds, optional: true }),
    realism: part({ label: 'realism', kinds: [realism] }),
    checks: parts({ label: 'checks', kinds: checks, optional: true }),
    hands: parts({ label: 'hands', kinds: hands, optional: true }),
    watch: parts({ label: 'watched', kinds: watches, optional: true }),
    print: part({ label: 'chart for print', kinds: [chartForPrint], optional: true }),
    trail: name({ label: 'trail coloured by', of: 'signal', optional: true }),
    span: part({ label: 'what is read of it', kinds: [spanAsked], optional: true }),
    gap: part({ label: 'account for the gap', kinds: [gapAsked], optional: true }),
    records: parts({ label: 'measured records', kinds: [measuredRecord], optional: true }),
    against: part({ label: 'account against a record', kinds: [recordAsked], optional: true }),
  },
} as const satisfies Kind
