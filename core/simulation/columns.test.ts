import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile } from './index'

const demos = ['boarding-ramp', 'derrick', 'lamplighter', 'lens-float', 'lens-turret', 'pilot-cutter', 'sprung-cabin']

describe('the columns of a record', () => {
  it.each(demos)('of %s have a name of their own each, and a unit wherever there is one', (name) => {
    const { resolved } = expectDone(checkDocument(demo(name)))
    for (const trial of Object.keys(resolved.trials)) {
      const { columns } = expectDone(compile(resolved, trial))
      expect(new Set(columns.map((column) => column.name)).size).toBe(columns.length)
      const bare = columns.filter(({ unit, name: one }) => unit === '' && !/\.attitude\.|\.gain$/.test(one))
      expect(bare.map((column) => column.name)).toEqual([])
    }
  })

  it('tell the effort of a drive in that of its joint', () => {
    const { resolved } = expectDone(checkDocument(demo('derrick')))
    const { columns } = expectDone(compile(resolved, 'hurried'))
    const unitOf = (name: string) => columns.find((column) => column.name === `derrick.drives.${name}.effort`)!.unit
    expect([unitOf('slew'), unitOf('hoist')]).toEqual(['N·m', 'N'])
  })
})
