import { formula, number, parts } from '../../kinds'
import type { Kind, PartOf } from '../../kinds'
import { lawConstants, lawFormula, lawLookup, lawTextProblems, lawWords } from './formulas'
import { constantNames } from '../../machine'
import { defineLaw } from '../law'

export const lawState = {
  name: 'lawState',
  says: 'becomes {next}, from {start}',
  about: 'What a typed law remembers: its value at the start, and what it becomes at the next sample.',
  slots: {
    start: number({ label: 'value at the start', unit: '', otherwise: 0 }),
    next: formula({ label: 'next value', unit: '' }),
  },
} as const satisfies Kind

type Written = { readonly states?: Readonly<Record<string, PartOf<typeof lawState>>>; readonly constants?: unknown }

const statesOf = ({ states }: Written) => states ?? {}
const wordsOf = (law: Written) => [...lawWords, ...Object.keys(statesOf(law)), ...constantNames(law)]

export const typedLaw = defineLaw({
  name: 'typedLaw',
  label: 'typed formulas',
  says: 'the formula {command}',
  about:
    'command and next states as formulas over error, reference, measured, rate (each from where the machine rests), dt, states of its own, its constants and the parameters of the document.',
  slots: {
    command: formula({ label: 'command', unit: '' }),
    states: parts({ label: 'states of its own', kinds: [lawState], optional: true }),
    ...lawConstants,
  },
  gains: [],
  readsRate: false,
  memory: (settings) => Object.keys(statesOf(settings)),
  start: (settings) => Object.values(statesOf(settings)).map(({ start }) => start ?? 0),
  formulaNames: wordsOf,
  problems: (where, law) => {
    const known = wordsOf(law)
    return [
      ...lawTextProblems(`${where}.command`, law.command, known, 'formula'),
      ...Object.entries(statesOf(law)).flatMap(([name, { next }]) =>
        lawTextProblems(`${where}.states.${name}.next`, next, known, 'formula'),
      ),
    ]
  },
  step: (inputs, memory, _gains, settings) => {
    const states = statesOf(settings)
    const own = Object.fromEntries(Object.keys(states).map((name, i) => [name, memory[i]!]))
    const lookup = lawLookup(inputs, own, settings)
    return {
      terms: { formula: lawFormula(settings.command, lookup) },
      memory: Object.values(states).map(({ next }) => lawFormula(next, lookup)),
    }
  },
})
