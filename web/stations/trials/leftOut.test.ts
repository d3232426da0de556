import { describe, expect, it } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { demo, lamplighter } from '../../../core/tests/demo'
import { leftOut } from './leftOut'

describe('what a prediction leaves out', () => {
  const turret = demo('lens-turret')
  const layer = 'trials.passingShip.realism'

  it('is what the trial has on and the design model has not', () => {
    expect(leftOut(turret, 'passingShip')).toEqual(['The prediction leaves out dry friction, stops and drive limits.'])
    const ideal = ['friction', 'stops', 'driveLimits'].reduce<Document>(
      (d, name) => replaceAt(d, `${layer}.${name}`, false),
      turret,
    )
    expect(leftOut(ideal, 'passingShip')).toEqual([])
  })

  it('is told the other way round for what is off in the trial alone', () => {
    const still = replaceAt<Document>(turret, `${layer}.viscous`, false)
    expect(leftOut(still, 'passingShip')[1]).toBe('It counts viscous friction, off here.')
  })

  it('names numbers that the trial changes, and counts estimators with a linear form', () => {
    const change = { kind: 'override', parameter: 'bodies.hull.mass', how: 'times', amount: 1.1 }
    const heavier = replaceAt<Document>(lamplighter(), 'trials.galleryRise.overrides', { hull: change })
    const [words] = leftOut(heavier, 'galleryRise')
    expect(words).toBe("The prediction leaves out drive limits, noise and bias of sensors and the trial's change of a number.")
  })
})
