import { add, atMost, equal, mul, select } from '../../expression'
import { number } from '../../kinds'
import { actionSlot, defineStop } from './stop'

export const watchdog = defineStop({
  name: 'watchdog',
  label: 'watchdog',
  says: 'once its reading has stood still for {after}, command {action}',
  about:
    'A reading that stays exactly the same that long has frozen: the law is cut off and the action commanded, for the rest of the run. Meant for readings with noise; what is read truly may well stand still. Common practice, no source.',
  slots: { after: number({ label: 'time', unit: 's', above: 0, most: 1e4 }), action: actionSlot },
  step: ({ reading, dt }, [before, still], { after }) => {
    const long = mul(select(equal(reading, before!), 1, 0), add(still!, dt))
    return { trips: atMost(after, long), memory: [reading, long] }
  },
})
