import { describe, expect, it } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { designLoop } from '@calm-hand/core/tuning'
import { demo } from '../../../core/tests/demo'
import { withoutLoop } from '../../stations/loops/loopEdits'
import { addTrial } from '../../stations/trials/trialEdits'
import { newLoop } from './newLoop'

const machines = ['pilot-cutter', 'derrick', 'lens-turret', 'lens-float', 'boarding-ramp', 'boat-shed-arm']

/** A demo document without its loops and trials. */
const bare = (name: string): Document => ({ ...demo(name), loops: {}, trials: {} })

/** It, and its machine. */
const first = (name: string) => [bare(name), Object.keys(demo(name).machines)[0]!] as const

/** The document with a loop on every push that is free, and a trial. */
function withAll(document: Document): Document {
  let next = document
  const [machine] = Object.keys(document.machines) as [string]
  for (let added = newLoop(next, machine); added !== undefined; added = newLoop(next, machine))
    next = { ...next, loops: { ...next.loops, [added.name]: added.part } }
  return addTrial(next, machine).change.apply(next)
}

describe('new loops and trials', () => {
  it.each(machines)('of %s have no problems, each on a push of its own that moves what it holds', (name) => {
    const document = withAll(bare(name))
    const outcome = checkDocument(document)
    expect(outcome).toMatchObject({ kind: 'done' })
    const pushes = Object.values(document.loops).map(({ pushes: push }) => push)
    expect(new Set(pushes).size).toBe(pushes.length)
    expect(pushes.length).toBeGreaterThan(0)
    if (outcome.kind === 'refused') return
    for (const loop of Object.keys(document.loops)) expect(designLoop(outcome.value.resolved, loop).kind, loop).toBe('done')
  })

  it('take the law that the held quantity allows', () => {
    const { part } = newLoop(...first('pilot-cutter'))!
    expect(part).toMatchObject({ holds: 'speed', pushes: 'thrust', law: { kind: 'proportionalIntegral' } })
    expect(newLoop(...first('derrick'))!.part).toMatchObject({ law: { kind: 'pidOnRate' } })
  })

  it('hold what the drive itself moves', () => {
    const held = Object.values(withAll(bare('derrick')).loops).map(({ holds }) => holds)
    expect(held).toEqual(['column.angle', 'boom.angle', 'load.travel'])
  })

  it('a loop goes with the cues that asked it and the checks that looked at it, and nothing else', () => {
    const after = withoutLoop(demo('lens-turret'), 'tilt')
    expect(Object.keys(after.loops)).toEqual(['pan'])
    expect(Object.keys(partsIn(after.trials.passingShip!.cues))).toEqual(['bearing'])
    expect(Object.keys(partsIn(after.trials.passingShip!.checks))).toEqual(['lag'])
    expect(checkDocument(after).kind).toBe('done')
  })
})
