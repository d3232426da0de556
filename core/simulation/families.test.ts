import { describe, expect, it } from 'vitest'
import { packRecord, recordToCsv, unpackRecord } from '../formats'
import { totalMass } from '../machine'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, familiesOf, familySignals, findFamily, start } from './index'
import type { Record as RunRecord } from './index'

/** A record with a plan of three places ahead. */
const planned: RunRecord = {
  ...{ hash: 'ab'.repeat(16), trial: 'ahead', seed: 1, layers: [], ending: { kind: 'finished' } },
  time: Float64Array.of(0, 0.5),
  columns: [0, 0.1, 0.25].map((at, i) => ({
    ...{ name: `loops.place.plan${i}`, label: `planned place ${at} s ahead`, unit: 'm', role: 'reference' as const },
    family: { name: 'loops.place.plan', label: 'planned place', over: 's ahead', at },
    values: Float64Array.of(i, i + 10),
  })),
}

describe('columns over a second index', () => {
  const porter = demo('porter')
  const run = start(expectDone(compile(porter, 'berthToBerth'))).run({ trial: 'berthToBerth', layers: [], seed: 1 })

  it('are found by their sort: all contacts of a machine, in the order of its parts', () => {
    const contacts = findFamily(run.columns, 'porter.forces.normal')!
    expect(contacts).toMatchObject({ label: 'normal push', unit: 'N', over: 'part' })
    const feet = ['front left foot', 'front right foot', 'rear left foot', 'rear right foot']
    expect(contacts.members.map(({ at }) => at)).toEqual(['left tyre', 'right tyre', ...feet, 'front edge', 'rear edge'])
  })

  it('together carry what the machine weighs, while it stands', () => {
    const { members } = findFamily(run.columns, 'porter.forces.normal')!
    const carried = (row: number) => members.reduce((sum, { column }) => sum + column.values[row]!, 0)
    const machine = porter.machines.porter!
    const weight = totalMass(machine) * (machine.gravity as number)
    // before its first cue, and long after its last; the jetty leans by less than three degrees
    expect(carried(100) / weight).toBeNear(1, { absolute: 2e-3 })
    expect(carried(run.time.length - 1) / weight).toBeNear(1, { absolute: 2e-3 })
    expect(members.filter(({ column }) => column.values[100]! > 1).map(({ at }) => at)).toEqual(['left tyre', 'right tyre'])
  })

  it('of other units are families of their own, and one alone is none', () => {
    const derrick = demo('derrick')
    const { columns } = expectDone(compile(derrick, 'hurried'))
    const efforts = familiesOf(columns).filter(({ name }) => name.startsWith('derrick.drives.effort'))
    expect(efforts.map(({ name, members }) => [name, members.map(({ at }) => at)])).toEqual([
      ['derrick.drives.effort [N·m]', ['slew', 'luff']],
    ])
    expect(findFamily(columns, 'derrick.drives.effort')).toBeUndefined()
  })

  it('can be looked at as one', () => {
    const words = familySignals({ columns: [...run.columns, ...planned.columns] }).map(({ label, unit }) => `${label}, ${unit}`)
    expect(words).toContain('normal push of all 8, N')
    expect(words).toContain('planned place over s ahead, m')
    expect(familySignals(undefined)).toEqual([])
  })

  it('go into the packed format and back', () => {
    expect(unpackRecord(packRecord(planned))).toEqual({ kind: 'done', value: planned })
    const wrong = { ...planned, columns: [{ ...planned.columns[0]!, family: { name: 'a', label: 'b', over: 's' } as never }] }
    expect(unpackRecord(packRecord(wrong)).kind).toBe('refused')
  })

  it('have their number in the header of a CSV, those of parts the name of their part', () => {
    const [head, first] = recordToCsv(planned).split('\r\n')
    expect(head).toBe('time [s],loops.place.plan@0 [m],loops.place.plan@0.1 [m],loops.place.plan@0.25 [m]')
    expect(first).toBe('0,0,1,2')
    expect(recordToCsv({ ...run, time: run.time.slice(0, 1) }).split('\r\n')[0]).toContain(',porter.forces.leftTyre.normal [N],')
  })
})
