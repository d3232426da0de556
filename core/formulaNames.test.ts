import { describe, expect, it } from 'vitest'
import { replaceAt } from './document'
import type { Document } from './document'
import { checkDocument, formulaNames } from './index'
import { demo } from './tests/demo'

const parameters = { boomMass: { kind: 'parameter', value: 3, unit: 'kg' } }
const derrick: Document = { ...demo('derrick'), parameters }
const force = { kind: 'formulaForce', body: 'boom', at: [0, 0, 0], x: '0', y: '0', z: '0' }
const reading = (text: string) => ({ kind: 'formulaReading', unit: 'm', angle: 'none', reading: text })
const law = (given: object) => replaceAt(replaceAt(derrick, 'loops.slew.law', given), 'loops.slew.tuning', { kind: 'typedGains' })
const states = { held: { kind: 'lawState', start: 0, next: 'held' } }
const constants = { bias: { kind: 'constant', value: 1, unit: '' } }
const logic = { first: { kind: 'logicState', command: '0', when: 'error > 1', next: 'first' } }
const stop = { late: { kind: 'protectiveStop', when: 'error > 1e9', action: 'rest' } }

const places: readonly (readonly [string, Document, string, readonly string[], readonly string[]])[] = [
  [
    'a force by formula',
    replaceAt(derrick, 'machines.derrick.forces.typed', force),
    'machines.derrick.forces.typed.x',
    ['boom.angle', 'boom.rate', 'load.travel', 't', 'px', 'boomMass'],
    ['error'],
  ],
  [
    'a reading, which sees those before it',
    replaceAt(derrick, 'machines.derrick.readings', { early: reading('boom.angle'), late: reading('0') }),
    'machines.derrick.readings.late.reading',
    ['boom.angle', 'readings.early', 't'],
    ['readings.late'],
  ],
  [
    'the first reading',
    replaceAt(derrick, 'machines.derrick.readings', { early: reading('0'), late: reading('0') }),
    'machines.derrick.readings.early.reading',
    ['boom.angle'],
    ['readings.early', 'readings.late'],
  ],
  [
    'a typed law',
    law({ kind: 'typedLaw', command: '0', states, constants }),
    'loops.slew.law.command',
    ['error', 'reference', 'measured', 'rate', 'dt', 'held', 'bias', 'boomMass'],
    ['t', 'boom.angle', 'since'],
  ],
  [
    'a state of a typed law',
    law({ kind: 'typedLaw', command: '0', states, constants }),
    'loops.slew.law.states.held.next',
    ['error', 'held', 'bias'],
    ['since'],
  ],
  [
    'state logic',
    law({ kind: 'stateLogic', states: logic, constants }),
    'loops.slew.law.states.first.command',
    ['error', 'since', 'bias'],
    ['first'],
  ],
  [
    'a protective stop',
    replaceAt(derrick, 'loops.slew.stops', stop),
    'loops.slew.stops.late.when',
    ['error', 'command'],
    ['since'],
  ],
  ['a number', derrick, 'machines.derrick.bodies.boom.mass', ['boomMass'], ['boom.angle', 't']],
]

describe.each(places)('names for %s', (_what, document, path, some, none) => {
  const names = formulaNames(document, path)

  it('are those of its owner and the parameters', () => {
    expect(names).toEqual(expect.arrayContaining([...some]))
    for (const name of none) expect(names).not.toContain(name)
    expect(new Set(names).size).toBe(names.length)
  })

  it('are all taken by the check, and no other is', () => {
    const problemsWith = (name: string) => {
      const [lead, tail] = path.endsWith('.mass') ? ['= ', ''] : path.endsWith('.when') ? ['', ' > 1'] : ['', '']
      const checked = checkDocument(replaceAt(document, path, `${lead}${name}${tail}`))
      return checked.kind === 'refused' ? checked.problems.filter(({ where }) => where === path) : []
    }
    for (const name of names) expect([name, problemsWith(name)]).toEqual([name, []])
    for (const name of [...none, 'nowhere']) expect([name, problemsWith(name).length]).toEqual([name, 1])
  })
})

it('are offered while something else of the document is wrong, and for a path that is not there', () => {
  const broken = replaceAt(derrick, 'machines.derrick.bodies.boom.joint.on', 'nothing')
  const typed = replaceAt(broken, 'machines.derrick.forces.typed', { ...force, x: 'boom.angl' })
  expect(formulaNames(typed, 'machines.derrick.forces.typed.x')).toContain('boom.angle')
  expect(formulaNames(typed, 'loops.gone.law.command')).toEqual(['boomMass'])
})
