import type { Part } from '../../document'
import { renamedFormula } from '../../formula'
import { everyPart } from '../../kinds'
import { partsIn, replaceAt } from '../../document'
import { equations } from './equations'
import { matrices } from './matrices'

/** Slots whose name may be that of a state, input or output. */
const naming = new Set(['fixable', 'input', 'output', 'signal'])

/** A machine without bodies with a state, input or output under another name, in its place and wherever it is used. */
export function withRenamedSignal(machine: Part, group: 'states' | 'inputs' | 'outputs', from: string, to: string): Part {
  const parts = Object.entries(partsIn(machine[group]))
  const moved = {
    ...machine,
    [group]: Object.fromEntries(parts.map(([name, part]) => [name === from ? to : name, part])),
  } as Part
  return everyPart([equations, matrices], 'm', moved).reduce((changed, { path, part, kind }) => {
    const own = path.replace(/^m\.?/, '')
    return Object.entries(kind.slots).reduce((next, [slot, definition]) => {
      const value = part[slot]
      const at = `${own}.${slot}`
      if (definition.type === 'formula' && typeof value === 'string') return replaceAt(next, at, renamedFormula(value, from, to))
      return definition.type === 'name' && naming.has(definition.of) && value === from ? replaceAt(next, at, to) : next
    }, changed)
  }, moved)
}
