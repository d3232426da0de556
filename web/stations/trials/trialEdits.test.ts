import { describe, expect, it } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
import { demo } from '../../../core/tests/demo'
import { compile } from '@calm-hand/core/simulation'
import { addTrial, copyTrial, removeTrial } from './trialEdits'

const whole = demo('lens-turret')
const { passingShip, otherShip } = whole.trials
/** With two of its trials, however many the demo has. */
const turret = { ...whole, trials: { passingShip: passingShip!, otherShip: otherShip! } } as Document
const titles = (document: Document) => Object.values(document.trials).map(({ title }) => title)

describe('trials', () => {
  it('are as many as are wanted, each under a name and a title of its own', () => {
    let document = turret
    for (let i = 0; i < 3; i++) document = addTrial(document, Object.keys(document.machines)[0]!, 'tilt').change.apply(document)
    expect(Object.keys(document.trials)).toEqual(['passingShip', 'otherShip', 'firstStep', 'firstStep2', 'firstStep3'])
    expect(titles(document).slice(2)).toEqual(['First step', 'First step 2', 'First step 3'])
    expect(document.trials.firstStep!.cues).toMatchObject({ step: { loop: 'tilt' } })
    expect(checkDocument(document).kind).toBe('done')
  })

  it('are copied whole, and the copy of a copy too', () => {
    const first = copyTrial(turret, 'passingShip')
    const once = first.change.apply(turret)
    const twice = copyTrial(once, first.name).change.apply(once)
    expect(titles(twice).slice(2)).toEqual(['Passing ship, copy', 'Passing ship, copy, copy'])
    const { title: _one, ...copied } = twice.trials[first.name]!
    const { title: _other, ...original } = turret.trials.passingShip!
    expect(copied).toEqual(original)
    expect(checkDocument(twice).kind).toBe('done')
  })

  it('go without what is pinned of others', () => {
    const after = removeTrial(turret, 'passingShip').apply(turret)
    expect(Object.keys(after.trials)).toEqual(['otherShip'])
    expect(after.tray).toEqual(turret.tray)
    expect(checkDocument(after).kind).toBe('done')
  })

  it('without a loop move the first push a little, and run', () => {
    const bare = { ...turret, loops: {}, trials: {}, tray: {} } as Document
    const { name, change } = addTrial(bare, Object.keys(bare.machines)[0]!)
    const document = change.apply(bare)
    const [push] = Object.values(document.trials[name]!.cues)
    expect(push!.loop).toMatch(/^pushes\.drives\./)
    const checked = checkDocument(document)
    expect(checked.kind).toBe('done')
    if (checked.kind === 'refused') return
    const program = compile(checked.value.resolved, name)
    expect(program.kind).toBe('done')
  })
})
