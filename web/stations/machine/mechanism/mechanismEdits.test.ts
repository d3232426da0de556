import { describe, expect, it } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import { findAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import {
  bodiesOf,
  chains,
  conditions,
  drives,
  expectations,
  forces,
  mechanismSensors,
  motionKind,
  surroundings,
} from '@calm-hand/core/machine'
import { demo } from '../../../../core/tests/demo'
import { addPartTo, removePartFrom } from '../partEdits'
import { addBody, freshSlots, removeBody, setMass, copyBody, hangOn, hangers } from './mechanismEdits'
import { sketchOf } from './sketch'

const path = 'machines.ramp'
const ramp = () => demo('boarding-ramp')
const machineOf = (document: Document) => document.machines.ramp!

describe('building a mechanism', () => {
  it('hangs a new body where it is asked, without problems', () => {
    const { name, change } = addBody(path, machineOf(ramp()), 'outerLeaf')
    const after = change.apply(ramp())
    expect(name).toBe('body')
    expect(findAt(after, `${path}.bodies.body.joint.on`)).toBe('outerLeaf')
    expect(checkDocument(after).kind).toBe('done')
  })

  it('gives each new body a name of its own', () => {
    const once = addBody(path, machineOf(ramp()), 'ground').change.apply(ramp())
    expect(addBody(path, machineOf(once), 'body').name).toBe('body2')
  })

  it('takes away what hangs on a removed body, and all that acted on them', () => {
    const bare = { ...ramp(), loops: {}, trials: {} }
    const after = removeBody(path, machineOf(bare), 'outerLeaf').apply(bare)
    expect(Object.keys(findAt(after, `${path}.bodies`) as object)).toEqual(['innerLeaf', 'rod', 'knuckle'])
    expect(Object.keys(findAt(after, `${path}.drives`) as object)).toEqual(['quayDrive'])
    expect(Object.keys(findAt(after, `${path}.forces`) as object)).not.toContain('foldStops')
    expect(checkDocument(after).kind).toBe('done')
  })

  it('opens a chain whose body goes', () => {
    const after = removeBody(path, machineOf(ramp()), 'rod').apply(ramp())
    expect(findAt(after, `${path}.chains`)).toEqual({})
    expect(checkDocument(after).kind).toBe('done')
  })

  it.each([
    ...forces.map((kind) => ['forces', kind] as const),
    ...drives.map((kind) => ['drives', kind] as const),
    ...mechanismSensors.map((kind) => ['sensors', kind] as const),
    ...surroundings.map((kind) => ['surroundings', kind] as const),
    ...expectations.map((kind) => ['expectations', kind] as const),
    ...conditions.map((kind) => ['conditions', kind] as const),
    ['motions', { ...motionKind, label: 'motion' }] as const,
    ...chains.filter(({ name }) => name === 'coupled').map((kind) => ['chains', kind] as const),
  ])('adds to %s a $label that the document takes', (group, kind) => {
    const { name, change } = addPartTo(path, machineOf(ramp()), group, kind, freshSlots(machineOf(ramp())))
    const after = change.apply(ramp())
    const outcome = checkDocument(after)
    const where = `${path}.${group}.${name}`
    const problems = outcome.kind === 'refused' ? outcome.problems.filter((problem) => problem.where.startsWith(`${where}.`)) : []
    expect(problems).toEqual([])
    expect(removePartFrom(path, group, name).apply(after)).toEqual(ramp())
  })

  it('sets mass, centre and inertia in one step', () => {
    const document = ramp()
    const body = findAt(document, `${path}.bodies.foot`) as Part
    const edit = setMass(`${path}.bodies.foot`, { mass: 2.5, centre: [0.1, 0, 0], inertia: [1, 2, 2.5, 0, 0, 0] })
    const after = findAt(edit.apply(document), `${path}.bodies.foot`) as Part
    expect(after).toMatchObject({ mass: 2.5, centre: [0.1, 0, 0], inertia: [1, 2, 2.5, 0, 0, 0] })
    expect(after.joint).toBe(body.joint)
  })
})

describe('rearranging bodies', () => {
  it('hangs a body on another one where it stands, and back', () => {
    const before = findAt(ramp(), `${path}.bodies.foot.joint`) as Part
    const moved = hangOn(path, 'foot', 'innerLeaf', ramp()).apply(ramp())
    const joint = findAt(moved, `${path}.bodies.foot.joint`) as Part
    expect(joint.on).toBe('innerLeaf')
    expect(joint.at).not.toEqual(before.at)
    expect(checkDocument(moved).kind).toBe('done')
    const back = findAt(hangOn(path, 'foot', 'outerLeaf', moved).apply(moved), `${path}.bodies.foot.joint`) as Part
    expect(back.at).toBeNear(before.at as number[], { absolute: 1e-9 })
  })

  it('offers nothing that would make a circle', () => {
    expect(Object.keys(hangers(machineOf(ramp()), 'knuckle'))).toEqual(['ground', 'innerLeaf', 'rod'])
  })

  it('copies and mirrors in one step', () => {
    const { name, change } = copyBody(path, machineOf(ramp()), 'foot', 'y')
    expect(name).toBe('foot2')
    expect(checkDocument(change.apply(ramp())).kind).toBe('done')
  })
})

describe('the sketch', () => {
  const page = { width: 320, height: 230 }
  it.each(['boarding-ramp', 'derrick', 'rock-walker', 'lens-float', 'sprung-cabin', 'boat-shed-arm'])(
    'of %s lies on its page',
    (name) => {
      const machine = Object.values(demo(name).machines)[0]!
      const { bodies, grounds } = sketchOf(machine, page.width, page.height)
      expect(bodies.map(({ name: body }) => body)).toEqual(Object.keys(bodiesOf(machine)))
      expect(grounds.length).toBeGreaterThan(0)
      for (const { at, bead, ends } of bodies)
        for (const { x, y } of [at, bead, ...ends]) {
          expect(x).toBeGreaterThanOrEqual(0)
          expect(x).toBeLessThanOrEqual(page.width)
          expect(y).toBeGreaterThanOrEqual(0)
          expect(y).toBeLessThanOrEqual(page.height)
        }
    },
  )

  it('draws the end of a chain where both bodies meet', () => {
    const { closings, bodies } = sketchOf(machineOf(ramp()), page.width, page.height)
    const rod = bodies.find(({ name }) => name === 'rod')!
    expect(closings).toHaveLength(1)
    expect(Math.hypot(rod.ends[0]!.x - closings[0]!.x, rod.ends[0]!.y - closings[0]!.y)).toBeLessThan(1e-9)
  })
})
