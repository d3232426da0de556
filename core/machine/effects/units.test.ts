import { expect, it } from 'vitest'
import { bodyPart, jointPart, mechanismPart } from '../../tests/parts'
import { fullMechanism, mechanismForm, mechanismMotion, numbersOf } from '../index'

const servo = { least: -1, most: 1, mostRate: 3, stiffness: 10, holding: 1, mostEffort: 5 }

it.each([
  ['turning', 'disc.angle', { position: 'rad', speed: 'rad/s', effort: 'N·m' }],
  ['sliding', 'disc.travel', { position: 'm', speed: 'm/s', effort: 'N' }],
])('what an effect has along a %s joint counts as that does', (kind, joint, unit) => {
  const body = bodyPart(1, [0, 0, 0], [1, 1, 1], jointPart(kind, 'ground', [0, 0, 0], { axis: [0, 0, 1] }))
  const machine = mechanismPart(
    { disc: body },
    {
      drives: {
        first: { kind: 'firstOrderServo', joint, lag: 0.1, ...servo },
        second: { kind: 'servo', joint, bandwidth: 10, damping: 0.7, ...servo },
        pushed: { kind: 'effortDrive', joint, most: 4 },
      },
      forces: {},
    },
  )
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const named = (all: readonly { readonly name: string; readonly unit: string }[]) =>
    Object.fromEntries(all.map((one) => [one.name, one.unit]))
  expect(named(form.states)).toMatchObject({
    [joint]: unit.position,
    'drives.first.position': unit.position,
    'drives.second.position': unit.position,
    'drives.second.rate': unit.speed,
  })
  expect(named(form.inputs)).toEqual({
    'drives.first': unit.position,
    'drives.second': unit.position,
    'drives.pushed': unit.effort,
  })
  const states = form.states.map(() => 0)
  const { signals } = mechanismMotion(machine, read, fullMechanism, form, states, [0, 0, 0], [])
  expect(named(signals)).toMatchObject({
    'drives.first.effort': unit.effort,
    'drives.first.model': unit.position,
    'drives.pushed.effort': unit.effort,
  })
})
