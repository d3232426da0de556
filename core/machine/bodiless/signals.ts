import { choice, formula, name, number } from '../../kinds'
import type { Kind } from '../../kinds'

const unit = name({ label: 'unit', of: 'text' })
const limits = {
  least: number({ label: 'least', unit: '', optional: true }),
  most: number({ label: 'most', unit: '', optional: true }),
} as const

/** Whether a state is an angle, and of which sort: errors of one that goes round are wrapped. */
const angle = choice({
  label: 'as an angle',
  options: { none: 'no angle', countsTurns: 'counts turns', goesRound: 'goes round' },
  otherwise: 'none',
})

/** A state with its own equation. */
export const equationState = {
  name: 'equationState',
  says: 'changes by {rate} a second, from {start}',
  about: 'A state, its value at the start, and its rate as a formula over states, inputs, constants, parameters and t.',
  slots: { unit, start: number({ label: 'value at the start', unit: '' }), rate: formula({ label: 'rate', unit: '' }), angle },
} as const satisfies Kind

/** What acts on a machine without bodies from outside. */
export const plainInput = {
  name: 'plainInput',
  says: 'is {nominal} nominally, between {least} and {most}',
  about: 'An input with its nominal value. Its limits act on the value itself, not on the deviation.',
  slots: { unit, nominal: number({ label: 'nominal value', unit: '', otherwise: 0 }), ...limits },
} as const satisfies Kind

/** What is looked at: a formula. */
export const equationOutput = {
  name: 'equationOutput',
  says: 'is {value}',
  about: 'An output as a formula over states, inputs, constants, parameters and t.',
  slots: { unit, value: formula({ label: 'value', unit: '' }) },
} as const satisfies Kind

/** A state of a linear model, with the value that its deviations are counted from. */
export const nominalState = {
  name: 'nominalState',
  says: 'is {nominal} nominally, and starts at {start}',
  about:
    'A state of a linear model: the matrices act on its deviation from the nominal value. It starts there unless it says otherwise.',
  slots: {
    unit,
    nominal: number({ label: 'nominal value', unit: '', otherwise: 0 }),
    start: number({ label: 'value at the start', unit: '', optional: true }),
    angle,
  },
} as const satisfies Kind

/** An output of a linear model, with the value that its deviations are counted from. */
export const nominalSignal = {
  name: 'nominalSignal',
  says: 'is {nominal} nominally',
  about: 'An output of a linear model: the matrices act on its deviation from the nominal value.',
  slots: { unit, nominal: number({ label: 'nominal value', unit: '', otherwise: 0 }) },
} as const satisfies Kind
