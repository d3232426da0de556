// A wheel on the ground: rolling, gripping and slipping against closed forms.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { fullMechanism, mechanismForm, mechanismMotion, numbersOf } from '../machine'
import { compile, findColumn, start } from './index'

const [mass, radius, gravity] = [4, 0.2, 9.80665]
const [spin, across] = [0.5 * mass * radius ** 2, 0.25 * mass * radius ** 2]
const stiffness = 6e4
const [friction, grip] = [0.5, 300]
const tyre = { kind: 'wheelContact', body: 'disc', at: [0, 0, 0], axis: [0, 1, 0], radius, level: 0, stiffness, damping: 300, friction, grip, slow: 1e-3 } // prettier-ignore
const weight = mass * gravity
const rests = radius - weight / stiffness

/** A uniform disc that stands on its rim, and starts with these speeds. */
function documentOf(more: object, starts: Readonly<Record<string, number>> = {}, trial: object = {}): Document {
  const disc = bodyPart(mass, [0, 0, 0], [across, spin, across], jointPart('free', 'ground', [0, 0, rests]))
  const machine = mechanismPart({ disc }, { gravity, forces: { tyre: { ...tyre, ...more } } })
  const numbers = Object.entries(starts).map(([state, value]) => [state, { kind: 'startNumber', state: `disc.${state}`, value }])
  const own = { starts: Object.fromEntries(numbers), ...trial }
  return oneMachine(machine, {}, { after: 3, method: 'adaptive', realism: realismWith(['contact']), ...own })
}

function rolled(starts: Readonly<Record<string, number>>, trial: object = {}, more: object = {}) {
  const { resolved } = expectDone(checkDocument(documentOf(more, starts, trial)))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  const column = (name: string) => [...findColumn(record, `m.${name}`)!]
  const [time, x] = [[...record.time], column('disc.x')]
  /** m/s along the ground over a step: speeds of its own are along axes that roll with it */
  const speed = (row = time.length - 1) => (x[row]! - x[row - 1]!) / (time[row]! - time[row - 1]!)
  return { time, column, speed }
}
const last = (values: readonly number[]) => values.at(-1)!

/** N along x, y, z and N·m about y of the same wheel where it stands and moves so, at its resting depth. */
function acting(speeds: { readonly vx?: number; readonly vy?: number; readonly wy?: number }, more: object = {}) {
  const disc = bodyPart(mass, [0, 0, 0], [across, spin, across], jointPart('free', 'ground', [0, 0, rests]))
  const machine = mechanismPart({ disc }, { gravity: 0, forces: { tyre: { ...tyre, ...more } } })
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const states = form.states.map(({ name, atRest }) => speeds[name.replace('disc.', '') as keyof typeof speeds] ?? atRest)
  const { rates, signals } = mechanismMotion(machine, read, fullMechanism, form, states, [], [])
  const gained = (speed: string) => rates[form.states.findIndex(({ name }) => name === `disc.${speed}`)] as number
  const shown = (name: string) => signals.find((one) => one.name === `forces.tyre.${name}`)!.value as number
  return { force: ['vx', 'vy', 'vz'].map((name) => mass * gained(name)), torque: spin * gained('wy'), shown }
}

/** m: of the loaded wheel. */
const loaded = rests

describe('a wheel', () => {
  it('that is set down sliding rolls once its rim has caught up, at two thirds of its speed', () => {
    // a uniform disc keeps its angular momentum about the line of contact: v = v0 / (1 + I / (m R²)) (common practice, no source)
    const { column, time, speed } = rolled({ vx: 2 })
    const rolling = 2 / (1 + spin / (mass * loaded ** 2))
    expect(speed()).toBeNear(rolling, { relative: 1e-6 })
    expect(last(column('disc.wy')) * loaded).toBeNear(rolling, { relative: 1e-5 })
    // until then it slips: friction × weight brakes it
    const early = time.findIndex((t) => t >= 0.05)
    const between = (time[early]! + time[early - 1]!) / 2
    expect(speed(early)).toBeNear(2 - friction * gravity * between, { relative: 1e-4 })
  })

  it('that spins on the spot drives itself off, to a third of the speed of its rim', () => {
    const { speed } = rolled({ wy: 30 }, { after: 6 })
    expect(speed()).toBeNear((30 * spin * loaded) / (spin + mass * loaded ** 2), { relative: 1e-5 })
  })

  it('with rolling resistance slows down as that says', () => {
    const rolling = 0.03
    const { time, speed } = rolled({ vx: 2, wy: 2 / loaded }, {}, { rolling })
    // the torque of rolling acts on mass and spin together; to begin with a thousandth goes into the slip that brakes it
    const slowing = (rolling * weight * radius) / (loaded * (mass + spin / loaded ** 2))
    expect(speed()).toBeNear(2 - slowing * last(time), { relative: 2e-3 })
  })

  it.each([0.05, 0.1, 0.19, 0.4])('that goes aside by %f of its speed grips as a brush does', (share) => {
    // Pacejka, Tire and Vehicle Dynamics, 3rd ed. 2012, eq. 3.13 (from memory): F = μ N (1 - (1 - x)³), all of it from x = 1 on
    const speed = 3
    const { force, shown, torque } = acting({ vx: speed, vy: share * speed, wy: speed / loaded })
    const x = (grip * share) / (3 * friction * weight)
    const expected = x < 1 ? 1 - (1 - x) ** 3 : 1
    expect(shown('normal')).toBeNear(weight, { relative: 1e-9 })
    expect(force[1]!).toBeNear(-friction * weight * expected, { relative: 1e-6 })
    expect(shown('slip')).toBeNear(share, { relative: 1e-6 })
    expect(shown('used')).toBeNear(expected, { relative: 1e-6 })
    expect([force[0]!, torque]).toBeNear([0, 0], { absolute: 1e-9 })
  })

  it('shares its grip: what brakes it takes from what holds it across, and never more than friction in all', () => {
    const aside = { vx: 3, vy: 0.3 }
    const rolling = acting({ ...aside, wy: 3 / loaded })
    const braked = acting({ ...aside, wy: 2 / loaded })
    const locked = acting({ ...aside, wy: 0 })
    expect(Math.abs(braked.force[1]!)).toBeLessThan(Math.abs(rolling.force[1]!))
    expect(Math.hypot(locked.force[0]!, locked.force[1]!)).toBeNear(friction * weight, { relative: 1e-9 })
    // locked it goes on as it went: the force is against its velocity
    expect(locked.force[1]! / locked.force[0]!).toBeNear(0.1, { relative: 1e-6 })
    expect(braked.torque).toBeGreaterThan(0)
  })

  it('refuses an axle without direction', () => {
    const outcome = checkDocument(documentOf({ axis: [0, 0, 0] }))
    expect(outcome).toMatchObject({ kind: 'refused', problems: [{ where: 'machines.m.forces.tyre.axis' }] })
  })
})
