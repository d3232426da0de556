import { choice, name } from '../kinds'
import type { Kind } from '../kinds'

const way = { raises: 'raises', lowers: 'lowers' } as const

/** What an engineer expects of the sign of a response. */
export const signExpectation = {
  name: 'signExpectation',
  label: 'a sign',
  says: 'More {input} first {way} {signal}.',
  about: 'Checked by a step of the linear form about the operating point: the first noticeable excursion has this sign.',
  slots: {
    input: name({ label: 'input', of: 'input' }),
    way: choice({ label: 'way', options: way }),
    signal: name({ label: 'signal', of: 'output' }),
  },
} as const satisfies Kind & { label: string }

/** The same, and that something else follows later. */
export const orderExpectation = {
  name: 'orderExpectation',
  label: 'an order',
  says: 'More {input} first {way} {signal}, then {thenWay} {thenSignal}.',
  about:
    'Checked by a step of the linear form about the operating point: both signals go first the ways said, and the second gets to a tenth of its largest excursion later than the first.',
  slots: {
    ...signExpectation.slots,
    thenWay: choice({ label: 'way of what follows', options: way }),
    thenSignal: name({ label: 'signal that follows', of: 'output' }),
  },
} as const satisfies Kind & { label: string }

/** In the order people see. */
export const expectations = [signExpectation, orderExpectation]
