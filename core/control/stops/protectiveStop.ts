import { add, and, atMost, less, mul, select } from '../../expression'
import { formula } from '../../kinds'
import { lawCondition, lawTextProblems, lawWords } from '../laws/formulas'
import { actionSlot, defineStop } from './stop'

const words = [...lawWords, 'command']

export const protectiveStop = defineStop({
  name: 'protectiveStop',
  label: 'protective stop',
  says: 'once {when}, command {action}',
  about:
    'From the sample at which the condition holds (for as long as it asks) the law is cut off and the action commanded, for the rest of the run. `rate > 1 until rate < 0.8 for 0.2 s` goes on counting while the rate chatters about 1. Words: error, reference, measured, rate (each from where the machine rests), command and dt.',
  slots: { when: formula({ label: 'condition', unit: '' }), action: actionSlot },
  formulaNames: words,
  problems: (where, { when }) => lawTextProblems(`${where}.when`, when, words, 'condition'),
  step: ({ lookup, dt }, [lasted], { when }) => {
    const { holds, lasting } = lawCondition(when)
    const now = holds(lookup, less(0, lasted!))
    const long = add(lasted!, dt)
    const trips = lasting === 0 ? now : and(now, atMost(lasting, long))
    return { trips, memory: [mul(select(now, 1, 0), long), 0] }
  },
})
