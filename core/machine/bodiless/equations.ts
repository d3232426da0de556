import { parts } from '../../kinds'
import type { Kind } from '../../kinds'
import { pointSlots } from '../points'
import { signalSensor } from './signalSensor'
import { constant } from '../constant'
import { expectations } from '../expectation'
import { figure } from './figures'
import { equationOutput, equationState, plainInput } from './signals'

/** A machine written down as its equations of motion. */
export const equations = {
  name: 'equations',
  says: 'is written as equations of motion',
  about:
    'States, each with its rate as a formula over states, inputs, constants, the parameters of the document, and t. Nothing typed is ever run as code.',
  slots: {
    states: parts({ label: 'states', kinds: [equationState] }),
    inputs: parts({ label: 'inputs', kinds: [plainInput], optional: true }),
    outputs: parts({ label: 'outputs', kinds: [equationOutput], optional: true }),
    sensors: parts({ label: 'sensors', kinds: [signalSensor], optional: true }),
    ...pointSlots,
    figure: parts({ label: 'figure', kinds: [figure], optional: true }),
    expectations: parts({ label: 'expectations', kinds: expectations, optional: true }),
    constants: parts({ label: 'constants', kinds: [constant], optional: true }),
  },
} as const satisfies Kind
