import { number, parts, table } from '../../kinds'
import type { Kind } from '../../kinds'
import { pointSlots } from '../points'
import { signalSensor } from './signalSensor'
import { constant } from '../constant'
import { expectations } from '../expectation'
import { figure } from './figures'
import { nominalSignal, nominalState, plainInput } from './signals'

/** A linear model about nominal values. */
export const matrices = {
  name: 'matrices',
  says: 'is a linear model about its nominal values',
  about:
    "x' = A (x - x0) + B (u - u0), y = y0 + C (x - x0) + D (u - u0), with x0, u0, y0 the nominal values; with a sample time the prime means the next sample's deviation. Inputs are limited as they are, not as deviations.",
  slots: {
    sampleTime: number({ label: 'sample time', unit: 's', above: 0, optional: true }),
    states: parts({ label: 'states', kinds: [nominalState] }),
    inputs: parts({ label: 'inputs', kinds: [plainInput] }),
    outputs: parts({ label: 'outputs', kinds: [nominalSignal], optional: true }),
    a: table({ label: 'A' }),
    b: table({ label: 'B' }),
    c: table({ label: 'C' }),
    d: table({ label: 'D' }),
    sensors: parts({ label: 'sensors', kinds: [signalSensor], optional: true }),
    ...pointSlots,
    figure: parts({ label: 'figure', kinds: [figure], optional: true }),
    expectations: parts({ label: 'expectations', kinds: expectations, optional: true }),
    constants: parts({ label: 'constants', kinds: [constant], optional: true }),
  },
} as const satisfies Kind
