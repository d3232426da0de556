import { add, and, atMost, equal, less, mul, not, select } from '../../expression'
import type { Flag, Scalar } from '../../expression'
import type { Problem } from '../../document'
import { nameRemedy } from '../../document'
import { formula, name, number, parts } from '../../kinds'
import type { Kind } from '../../kinds'
import { lawCondition, lawConstants, lawFormula, lawLookup, lawTextProblems, lawWords } from './formulas'
import { constantNames } from '../../machine'
import { defineLaw } from '../law'

export const logicState = {
  name: 'logicState',
  says: 'command {command}; go on to {next} when {when}',
  about:
    'A named state: what it commands while it lasts, the condition to leave it and where to, and a time after which it is left anyhow. `since` is the time in the state, s.',
  slots: {
    command: formula({ label: 'command', unit: '' }),
    when: formula({ label: 'condition to leave', unit: '' }),
    next: name({ label: 'next state', of: 'sibling' }),
    timeOut: number({ label: 'time-out', unit: 's', above: 0, optional: true }),
    after: name({ label: 'state after the time-out', of: 'sibling', optional: true }),
  },
} as const satisfies Kind

const wordsOf = (law: { readonly constants?: unknown }) => [...lawWords, 'since', ...constantNames(law)]

/** Memory: the number of the state, the time in it, and for how long its condition has held. */
export const stateLogic = defineLaw({
  name: 'stateLogic',
  label: 'state logic',
  says: 'state logic',
  about:
    'Named states, the first at the start. Each commands its formula until its condition holds (for as long as it asks), then the next one takes over at the next sample; a time-out leaves it anyhow. Harel, Science of Computer Programming 8 (1987), flat (from memory).',
  slots: { states: parts({ label: 'states', kinds: [logicState] }), ...lawConstants },
  gains: [],
  readsRate: false,
  memory: ['state', 'since', 'held'],
  notLinear: 'State logic changes what it does, so it has no linear form. Look at its step and trials instead.',
  decides: true,
  formulaNames: wordsOf,
  problems: (where, law) => {
    const states = law.states
    const names = Object.keys(states)
    const known = wordsOf(law)
    if (names.length === 0)
      return [{ where: `${where}.states`, what: 'The logic has no state.', remedy: 'Give it one, with what it commands.' }]
    return Object.entries(states).flatMap(([own, state]): Problem[] => {
      const at = `${where}.states.${own}`
      const unknown = (slot: 'next' | 'after') => {
        const to = state[slot]
        if (to === undefined || to === '' || names.includes(to)) return []
        return [{ where: `${at}.${slot}`, what: `There is no state named ${to}.`, remedy: nameRemedy(to, names) }]
      }
      return [
        ...lawTextProblems(`${at}.command`, state.command, known, 'formula'),
        ...lawTextProblems(`${at}.when`, state.when, known, 'condition'),
        ...unknown('next'),
        ...unknown('after'),
      ]
    })
  },
  step: (inputs, [state, since, held], _gains, settings) => {
    const states = settings.states
    const names = Object.keys(states)
    const lookup = lawLookup(inputs, { since: since! }, settings)
    const indexOf = (to: string, own: number) => (names.includes(to) ? names.indexOf(to) : own)
    let [command, next, lasts]: [Scalar, Scalar, Scalar] = [0, state!, 0]
    Object.values(states).forEach((one, i) => {
      const here = equal(state!, i)
      const condition = lawCondition(one.when)
      const holds = condition.holds(lookup, less(0, held!))
      const long = add(held!, inputs.dt)
      const kept: Flag = condition.lasting === 0 ? holds : and(holds, less(condition.lasting, long))
      const late: Flag = one.timeOut === undefined ? false : atMost(one.timeOut, since!)
      const to = select(
        kept,
        indexOf(one.next, i),
        select(late, indexOf(one.after === '' ? one.next : (one.after ?? one.next), i), i),
      )
      command = select(here, lawFormula(one.command, lookup), command)
      next = select(here, to, next)
      lasts = select(here, mul(select(holds, 1, 0), long), lasts)
    })
    const stays = equal(next, state!)
    return {
      terms: { logic: command },
      memory: [next, select(stays, add(since!, inputs.dt), 0), select(and(stays, not(less(lasts, 0))), lasts, 0)],
    }
  },
})
