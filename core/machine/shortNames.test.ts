import { describe, expect, it } from 'vitest'
import { shortName } from './index'

const machine = {
  kind: 'mechanism',
  bodies: {
    boom: { kind: 'linkedBody', label: 'Ausleger groß' },
    innerLeaf: { kind: 'linkedBody' },
    raft: { kind: 'linkedBody', joint: { kind: 'planar' } },
  },
  drives: { hoist: { kind: 'effortDrive', label: 'Winde' } },
  sensors: { level: { kind: 'accelerometer', label: 'Wasserwaage' } },
}

describe('a name of a machine as people say it', () => {
  it.each([
    ['drives.hoist', 'Winde', 'hoist'],
    ['drives.hoist.effort', 'effort of Winde', 'effort of hoist'],
    ['boom.angle', 'Ausleger groß', 'boom'],
    ['raft.angle', 'angle of raft', 'raft'],
    ['raft.ahead', 'speed ahead of raft', 'speed ahead of raft'],
    ['boom.rate', 'rate of Ausleger groß', 'rate of boom'],
    ['innerLeaf.angle', 'inner leaf', 'inner leaf'],
    ['sensors.level.x', 'x of Wasserwaage', 'x of level'],
    ['yawRate', 'yaw rate', 'yaw rate'],
    // a body may be called as a group is
    ['boom.drives', 'drives of Ausleger groß', 'drives of boom'],
  ])('%s is %s, and without labels %s', (name, labelled, plain) => {
    expect([shortName(name, machine), shortName(name, undefined)]).toEqual([labelled, plain])
  })
})
