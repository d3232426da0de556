import { describe, expect, it } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import { demo } from '../../../core/tests/demo'
import { newLoop } from '../../compute/loops/newLoop'
import { addTrial } from '../trials/trialEdits'
import { addMachine, removeMachine } from './machineEdits'

describe('another machine beside those of a project', () => {
  const float = demo('lens-float')
  const [own] = Object.keys(float.machines) as [string]
  const { name, change } = addMachine(float, float.machines[own]!, own)
  const both = change.apply(float)

  it('has a name of its own, loops on pushes that the first has too, and trials', () => {
    expect(name).not.toBe(own)
    const loop = newLoop(both, name)!
    expect(loop.part.machine).toBe(name)
    const looped = { ...both, loops: { ...both.loops, [loop.name]: loop.part } }
    const trial = addTrial(looped, name)
    const document = trial.change.apply(looped)
    expect(document.trials[trial.name]).toMatchObject({ machine: name, cues: { step: { loop: loop.name } } })
    expect(checkDocument(document)).toMatchObject({ kind: 'done' })
    // and goes with all that is about it
    expect(removeMachine(name).apply(document)).toEqual(float)
  })

  it('is taken away with its pinned runs', () => {
    const pinned = { ...both, tray: { A: { title: 'A', trial: Object.keys(float.trials)[0]!, run: 'ab', loops: {} } } }
    const left = removeMachine(own).apply(pinned)
    expect(left.tray).toEqual({})
    expect(left.loops).toEqual({})
    expect(Object.keys(left.machines)).toEqual([name])
    expect(checkDocument(left).kind).toBe('done')
  })
})
