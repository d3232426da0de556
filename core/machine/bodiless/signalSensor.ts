import { name } from '../../kinds'
import type { Kind } from '../../kinds'
import { errorSlots } from '../mechanismSensors/sensor'

/** Reads a state or an output of a machine without bodies: what loops and estimators see of it as measured. */
export const signalSensor = {
  name: 'signalSensor',
  says: 'A sensor reads {signal} {rate#} times a second, with a noise of {noise}.',
  about:
    'A state or output as it is measured: sampled, late, noisy, biased, drifting, in steps, within its ends, and with lost samples. Loops that read it as measured, and estimators, see this.',
  slots: { signal: name({ label: 'signal', of: 'output' }), ...errorSlots },
} as const satisfies Kind
