import { describe, expect, it } from 'vitest'
import { checkDocument } from '../index'
import { partsIn, replaceAt } from '../document'
import type { Document } from '../document'
import { demo } from '../tests/demo'
import { drives, originState, shelfItems, takenFrom, withBodyFrom } from './index'
import type { ShelfOrigin } from './index'
import { bodiesOf } from './linkedBody'

const turret = demo('lens-turret')
const arm = demo('boat-shed-arm')
const item = (name: string, group = 'drives') => shelfItems('lens-turret', turret, group).find((one) => one.name === name)!

describe('the shelf', () => {
  it('offers the parts of other machines with their place', () => {
    expect(shelfItems('lens-turret', turret, 'drives').map(({ path, title }) => [path, title])).toEqual([
      ['machines.turret.drives.panMotor', 'Lens turret'],
      ['machines.turret.drives.tiltMotor', 'Lens turret'],
    ])
    expect(shelfItems('pilot-cutter', demo('pilot-cutter'), 'drives')).toEqual([])
  })

  it('gives a copy with new names that remembers where it came from', () => {
    const part = takenFrom(item('panMotor'), drives, { joint: 'wrist.angle' })
    expect(part).toMatchObject({
      kind: 'dcMotor',
      joint: 'wrist.angle',
      origin: { project: 'lens-turret', path: 'machines.turret.drives.panMotor' },
    })
    expect(part.gear).toBe(partsIn(turret.machines.turret!.drives).panMotor!.gear)
    const document = replaceAt(arm, 'machines.arm.drives.rollDrive', part)
    // where it came from is no unknown field
    expect(checkDocument(document)).toMatchObject({ kind: 'done', value: { cautions: [] } })
  })

  it('tells whether the original is the same, has changed, or is gone', () => {
    const origin = takenFrom(item('panMotor'), drives, {}).origin as ShelfOrigin
    expect(originState(origin, turret)).toBe('same')
    expect(originState(origin, replaceAt(turret, `${origin.path}.gear`, 90))).toBe('changed')
    expect(originState(origin, replaceAt(turret, origin.path, undefined))).toBe('gone')
    expect(originState(origin, undefined)).toBe('gone')
  })

  it('gives a body with all that hangs on it and what acts on it alone', () => {
    const source = arm.machines.arm!
    const body = shelfItems('boat-shed-arm', arm, 'bodies').find(({ name }) => name === 'wrist')!
    const { machine, name } = withBodyFrom(turret.machines.turret!, source, body, 'lens')
    expect(name).toBe('wrist')
    expect(Object.keys(bodiesOf(machine))).toEqual(['yoke', 'lens', 'wrist', 'brush'])
    expect(machine).toHaveProperty('bodies.wrist.joint.on', 'lens')
    expect(machine).toHaveProperty('bodies.wrist.origin.path', 'machines.arm.bodies.wrist')
    expect(Object.keys(partsIn(machine.drives))).toEqual(['panMotor', 'tiltMotor', 'rollDrive', 'tipDrive'])
    const outcome = checkDocument({ ...turret, machines: { turret: machine } } as Document)
    expect(outcome).toMatchObject({ kind: 'done', value: { cautions: [] } })
    const again = withBodyFrom(machine, source, body, 'lens')
    expect(again.name).toBe('wrist2')
    expect(checkDocument({ ...turret, machines: { turret: again.machine } } as Document).kind).toBe('done')
  })
})
