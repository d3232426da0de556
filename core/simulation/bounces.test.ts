// A ball that bounces and one that rolls, against what mechanics says of them in closed form (any textbook; from memory).
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Part } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { compile, findColumn, start } from './index'

const [mass, radius, stiffness, damping, g] = [2, 0.1, 2e4, 60, 9.80665]
const inertia = (2 / 5) * mass * radius ** 2
const foot = { kind: 'groundContact', body: 'ball', at: [0, 0, 0], radius, level: 0, stiffness, damping, friction: 0.4, smooth: 1e-5 } // prettier-ignore

/** A ball whose centre is let go at a height, m. */
function letGo(height: number, after: number, more: { contact?: object; machine?: object } = {}) {
  const body = bodyPart(mass, [0, 0, 0], [inertia, inertia, inertia], jointPart('free', 'ground', [0, 0, height]))
  const ball: Part = mechanismPart({ ball: body }, { forces: { foot: { ...foot, ...more.contact } }, ...more.machine })
  const trial = { after, method: 'adaptive', step: 1e-3, realism: realismWith(['contact']) }
  const { resolved } = expectDone(checkDocument(oneMachine(ball, {}, trial)))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  return { time: record.time, column: (name: string) => findColumn(record, `m.ball.${name}`)! }
}

/** What a spring and damper that only push make of a fall: how long it stays, and how fast it leaves at the height of its touch. */
function bounced(speed: number) {
  const [rest, fading] = [(mass * g) / stiffness, damping / (2 * mass)]
  const turning = Math.sqrt(stiffness / mass - fading ** 2)
  const [a, b] = [-rest, (speed - fading * rest) / turning]
  const depth = (t: number) => rest + Math.exp(-fading * t) * (a * Math.cos(turning * t) + b * Math.sin(turning * t))
  const sinking = (t: number) =>
    Math.exp(-fading * t) *
    ((turning * b - fading * a) * Math.cos(turning * t) - (turning * a + fading * b) * Math.sin(turning * t))
  // it is let go once spring and damper no longer push
  let [early, late] = [Math.PI / (2 * turning), (1.2 * Math.PI) / turning]
  for (let k = 0; k < 60; k++) {
    const middle = (early + late) / 2
    if (stiffness * depth(middle) + damping * sinking(middle) > 0) early = middle
    else late = middle
  }
  const [deep, up] = [depth(early), -sinking(early)]
  const leaves = Math.sqrt(up ** 2 - 2 * g * deep)
  return { lasts: early + (up - leaves) / g, leaves }
}

describe('a ball that is dropped', () => {
  it('is at its highest when and as high as the closed form says, bounce after bounce', () => {
    const height = 1.3
    const { time, column } = letGo(height, 2.2)
    const [speed, place] = [column('vz'), column('z')]
    const found: (readonly [number, number])[] = []
    for (let k = 1; k < time.length; k++) {
      if (!(speed[k - 1]! > 0 && speed[k]! <= 0)) continue
      // in flight the speed falls evenly
      found.push([time[k - 1]! + speed[k - 1]! / g, height + place[k - 1]! + speed[k - 1]! ** 2 / (2 * g)])
    }
    let [at, falls] = [0, Math.sqrt(2 * g * (height - radius))]
    const expected = found.map((): readonly [number, number] => {
      const { lasts, leaves } = bounced(falls)
      at += falls / g + lasts + leaves / g
      falls = leaves
      return [at, radius + leaves ** 2 / (2 * g)]
    })
    expect(found.length).toBeGreaterThan(2)
    expect(found.flat()).toBeNear(expected.flat(), { absolute: 2e-5 })
  })
})

describe('a ball on a floor that is accelerated', () => {
  // it sinks in by what it weighs, and rolls on what is left
  const arm = radius - (mass * g) / stiffness
  const share = 1 / (1 + inertia / (mass * arm ** 2))
  /** For who stands on it gravity is larger and leans: what it does there, m/s² along the floor and rad/s². */
  const carried = (acceleration: number, friction: number) => {
    const [lean, weight] = [Math.atan(acceleration / g), Math.hypot(g, acceleration)]
    const profile = [-30, 30].map((x) => [x, x * Math.tan(lean)])
    const { time, column } = letGo(arm / Math.cos(lean), 1.5, {
      contact: { friction },
      machine: { gravity: weight, surroundings: { floor: { kind: 'groundProfile', profile } } },
    })
    // its speeds are along its own axes, which turn with it: its way is not
    const at = (t: number) => time.findIndex((one) => one >= t - 1e-9)
    const [x, w] = [column('x'), column('wy')]
    const along = (x[at(1.5)]! - 2 * x[at(1)]! + x[at(0.5)]!) / 0.5 ** 2
    return { along: along / Math.cos(lean), spin: w[at(1.5)]! - w[at(0.5)]! }
  }

  it('rolls back at five sevenths of what it is accelerated by, so that two sevenths carry it along', () => {
    expect(share).toBeNear(5 / 7, { absolute: 0.005 })
    const { along, spin } = carried(2, 0.4)
    expect(along).toBeNear(-share * 2, { relative: 1e-4 })
    expect(spin).toBeNear((-share * 2) / arm, { relative: 1e-4 })
  })

  it('slips once that is more than three and a half times what friction can hold', () => {
    const friction = 0.03
    // held by friction alone, and spun by it
    expect(carried(3.4 * friction * g, friction).along).toBeNear(-share * 3.4 * friction * g, { relative: 1e-4 })
    const { along, spin } = carried(2, friction)
    expect(along).toBeNear(-(2 - friction * g), { relative: 1e-4 })
    expect(spin).toBeNear((-friction * mass * g * arm) / inertia, { relative: 1e-4 })
  })
})
