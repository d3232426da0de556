// Distances against closed forms and against a fine mesh of points; what a scene does to a machine and to a run of it.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { turnedBy } from '../algebra'
import type { Placement } from '../algebra'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { compile, findColumn, limitsHit, runHash, signalsOf, start, verdictsOf } from '../simulation'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { clearanceTo, convexAt, distanceBetween, inScene, lightAround, solidOf } from './index'

const at = (x: number, y: number, z: number, turned: readonly [number, number, number] = [0, 0, 0]): Placement => ({
  position: [x, y, z],
  rotation: turnedBy(turned.map(Math.cos) as never, turned.map(Math.sin) as never),
})
const shape = (kind: string, more: object) => ({ kind, at: [0, 0, 0], turned: [0, 0, 0], ...more }) as never
const solid = (given: never, place: Placement) => convexAt(solidOf(given)!, place)
const ball = (radius: number) => shape('sphere', { radius })
const box = (...size: number[]) => shape('box', { size })
const drum = (radius: number, length: number) => shape('cylinder', { radius, length })

describe('the distance of solids', () => {
  const quarter = Math.PI / 4
  it.each<[string, never, Placement, never, Placement, number]>([
    ['two balls', ball(1), at(0, 0, 0), ball(0.5), at(3, 4, 0), 3.5],
    ['a ball over a face of a box', ball(0.3), at(0.2, -0.1, 2), box(2, 2, 1), at(0, 0, 0), 1.2],
    ['a ball off an edge', ball(0.5), at(4, 5, 0), box(2, 2, 2), at(0, 0, 0), 4.5],
    ['a ball off a corner', ball(0), at(2, 3, 3), box(2, 2, 2), at(0, 0, 0), 3],
    ['two boxes beside each other', box(1, 1, 1), at(0, 0, 0), box(2, 4, 2), at(3, 0.5, 0.2), 1.5],
    ['an edge of a turned box over a face', box(1, 1, 1), at(0, 0, 2, [quarter, 0, 0]), box(8, 8, 1), at(0, 0, 0), 1.5 - Math.SQRT1_2], // prettier-ignore
    ['two edges across each other', box(1, 1, 1), at(0, 0, 3, [quarter, 0, 0]), box(1, 1, 1), at(0, 0, 0, [0, quarter, 0]), 3 - Math.SQRT2], // prettier-ignore
    ['a ball beside a drum', ball(0.25), at(3, 0, 0.4), drum(1, 2), at(0, 0, 0), 1.75],
    ['a ball over the rim of a drum', ball(0), at(4, 0, 5), drum(1, 2), at(0, 0, 0), 5],
    ['two drums across each other', drum(0.5, 4), at(0, 0, 2, [Math.PI / 2, 0, 0]), drum(0.5, 4), at(0, 0, 0, [0, Math.PI / 2, 0]), 1], // prettier-ignore
    ['what touches', box(1, 1, 1), at(1, 0, 0), box(1, 1, 1), at(0, 0, 0), 0],
    ['what stands in one another', drum(1, 3), at(0.3, 0.2, 0.1, [0.4, 0.1, 0]), box(1, 2, 3), at(0, 0, 0), 0],
  ])('%s: by hand', (_what, a, there, b, here, expected) => {
    expect(distanceBetween(solid(a, there), solid(b, here))).toBeNear(expected, { absolute: 1e-7 })
    expect(distanceBetween(solid(b, here), solid(a, there))).toBeNear(expected, { absolute: 1e-7 })
  })

  it('is never more than that of any two points of them, and goes along when both are moved', () => {
    const near = fc.double({ min: -2, max: 2, noNaN: true })
    const place = fc.tuple(near, near, near, near, near, near)
    const share = fc.double({ min: -0.5, max: 0.5, noNaN: true })
    fc.assert(
      fc.property(
        place,
        place,
        fc.tuple(share, share, share),
        fc.tuple(share, share, share),
        ([x, y, z, ...turned], other, p, q) => {
          const [one, two] = [at(x, y, z, turned as never), at(other[0] + 4, other[1], other[2], other.slice(3) as never)]
          const [a, b] = [solid(box(1, 2, 0.5), one), solid(box(0.7, 0.7, 3), two)]
          const point = (pose: Placement, size: readonly number[], shares: readonly number[]) =>
          pose.rotation.map((row, i) => (pose.position[i] as number) + row.reduce((sum: number, entry, j) => sum + (entry as number) * size[j]! * shares[j]!, 0)) // prettier-ignore
          const [from, to] = [point(one, [1, 2, 0.5], p), point(two, [0.7, 0.7, 3], q)]
          const apart = Math.sqrt(from.reduce((sum, value, i) => sum + (value - to[i]!) ** 2, 0))
          expect(distanceBetween(a, b)).toBeLessThanOrEqual(apart + 1e-9)
        },
      ),
    )
  })
})

/** A sled with a box on it that slides along x, and a wall 3 m away. */
const sled = mechanismPart(
  {
    sled: {
      ...bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0] })),
      shapes: { load: shape('box', { size: [1, 0.5, 0.5] }) },
    },
  },
  { gravity: 0, drives: { motor: { kind: 'effortDrive', joint: 'sled.travel', most: 100 } } },
)
const wall = shape('box', { at: [3, 0, 0], size: [0.2, 4, 4] })
const hold = { holds: 'sled.travel', pushes: 'drives.motor', law: { kind: 'pdOnRate' }, tuning: { kind: 'typedGains', kp: 8, ki: 0, kd: 8 } } // prettier-ignore
const rise = { kind: 'stepCue', loop: 'hold', at: 0, by: 1.5 }

function documentOf(scene: object | undefined, trial: object = {}): Document {
  const document = oneMachine(sled, { hold }, { cues: { rise }, after: 5, ...(scene && { scene: 'yard' }), ...trial })
  return { ...document, ...(scene && { scenes: { yard: { kind: 'scene', ...scene } as never } }) }
}
function flown(document: Document) {
  const { resolved } = expectDone(checkDocument(document))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  return { resolved, record, column: (name: string) => [...findColumn(record, name)!] }
}

describe('the clearance of a machine on its way', () => {
  const moved = (given: object, ...place: number[]) => ({ ...given, at: place })
  const long = moved(box(0.2, 0.2, 4), 0, 0, 1.5)
  const turning = jointPart('turning', 'ground', [0, 0, 0], { axis: [1, 0.3, 0] })
  const machine = mechanismPart({
    arm: { ...bodyPart(3, [0, 0, 1], [1, 1, 1], turning), shapes: { rod: long, tip: moved(ball(0.3), 0, 0, 3.4) } },
    hand: {
      ...bodyPart(1, [0, 0, 0], [1, 1, 1], jointPart('turning', 'arm', [0, 0, 3], { axis: [0, 1, 0] })),
      shapes: { palm: box(0.1, 1.6, 0.6) },
    },
  })
  const post = (x: number, y: number, z: number) => moved(drum(0.3, 2), x, y, z)
  const scene = {
    kind: 'scene',
    obstacles: {
      near: post(1.2, 0, 2),
      far: post(-3, 1, -2),
      over: post(0, 3.5, 3),
      under: moved(box(9, 9, 0.2), 0, 0, -5),
    },
  } as never

  it('is that of each place by itself, though only what may have come nearer is looked at', () => {
    const way = clearanceTo(machine, scene)!
    const steps = fc.array(
      fc.tuple(fc.double({ min: -0.4, max: 0.4, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true })),
      {
        minLength: 20,
        maxLength: 60,
      },
    )
    fc.assert(
      fc.property(steps, (turns) => {
        let q: readonly [number, number] = [0, 0]
        for (const [a, b] of turns) {
          q = [q[0] + a, q[1] + b]
          expect(way.at(q)).toBe(clearanceTo(machine, scene)!.at(q))
        }
      }),
      { numRuns: 12, seed: 7 },
    )
  })

  it('is no number where a position is none, and right again after that', () => {
    const way = clearanceTo(machine, scene)!
    const places = [0, 0.7, 1.9].map((a) => [a, 0.4] as const)
    for (const q of places) {
      expect(way.at([NaN, q[1]])).toBeNaN()
      expect(way.at([q[0], Infinity])).toBeNaN()
      expect(way.at(q)).toBe(clearanceTo(machine, scene)!.at(q))
    }
    // as far as a limit is concerned
    expect(way.at(places[0]!, 1e-3)).toBe(Math.min(1e-3, clearanceTo(machine, scene)!.at(places[0]!)))
  })
})

describe('a trial in a scene', () => {
  it('knows how far the machine is from what stands around, and a check keeps it clear', () => {
    const checks = {
      clear: { kind: 'staysBeyond', signal: 'm.clearance', side: 'above', limit: 1 },
      close: { kind: 'staysBeyond', signal: 'm.clearance', side: 'above', limit: 0.8 },
    }
    const { resolved, record, column } = flown(documentOf({ obstacles: { wall } }, { checks }))
    // fresh every twentieth of a second
    const fresh = (values: readonly number[]) => values.filter((_, row) => row % 5 === 0)
    expect(fresh(column('m.clearance'))).toBeNear(fresh(column('m.sled.travel')).map((x) => 2.9 - (x + 0.5)), { absolute: 1e-9 }) // prettier-ignore
    expect(record.columns.find(({ name }) => name === 'm.clearance')!.every).toBe(5)
    expect(column('m.clearance')[4]).toBe(column('m.clearance')[0])
    const verdicts = verdictsOf(resolved, 'run', record)
    expect(verdicts.map(({ outcome }) => outcome)).toEqual(['fails', 'holds'])
    expect(verdicts[0]!.margin!).toBeNear(2.4 - 1.5 - 1, { absolute: 1e-3 })
  })

  it.each([0, 12, 137])('looked at for its least alone says the same of that from row %i on', (from) => {
    const watch = { near: { kind: 'watched', signal: 'm.clearance' } }
    const post = (x: number, y: number) => ({ kind: 'sphere', at: [x, y, 0], turned: [0, 0, 0], radius: 0.2 })
    const obstacles = { wall, beside: post(0.7, 1.4), behind: post(-1.3, 0) }
    const { record } = flown(documentOf({ obstacles }, { watch }))
    const { least } = record.columns.find(({ name }) => name === 'm.clearance')!
    const looks = [0.3, 0.62, 0.9].map((below) => ({ below, found: least!(from, below) }))
    const { values } = record.columns.find(({ name }) => name === 'm.clearance')!
    const judged = values.subarray(from)
    for (const { below, found } of looks) {
      const mine = found.subarray(from)
      expect(Math.min(...mine)).toBe(Math.min(...judged))
      expect(mine.indexOf(Math.min(...mine))).toBe(judged.indexOf(Math.min(...judged)))
      const first = judged.findIndex((value) => value < below)
      expect(mine.findIndex((value) => value < below)).toBe(first)
      if (first > 0) expect(mine[first - 1]).toBe(judged[first - 1])
      expect(mine.every((value, row) => value <= judged[row]!)).toBe(true)
    }
    // some of it was not worked out
    expect(looks.some(({ found }) => found.subarray(from).some((value, row) => value < judged[row]!))).toBe(true)
  })

  it('tells a start in an obstacle, and since when it touches one', () => {
    const inside = flown(documentOf({ obstacles: { wall: { ...(wall as object), at: [0.4, 0, 0] } } }))
    expect(limitsHit(inside.resolved, inside.record)[0]).toMatchObject({ sort: 'touch', name: 'm', at: 0 })
    expect(inside.record.columns.some(({ name }) => name === 'm.clearance')).toBe(false)
    const watch = { near: { kind: 'watched', signal: 'm.clearance' } }
    const { resolved, record, column } = flown(documentOf({ obstacles: { wall: { ...(wall as object), at: [1.4, 0, 0] } } }, { watch })) // prettier-ignore
    expect(column('m.clearance')[0]).toBeNear(0.8, { absolute: 1e-9 })
    const unseen = documentOf({ obstacles: { wall: { ...(wall as object), at: [1.4, 0, 0] } } })
    expect(runHash(unseen, 'run')).not.toBe(runHash(resolved, 'run'))
    expect(signalsOf(unseen, 'run', inside.record).at(-1)!.name).toBe('m.clearance')
    const [hit] = limitsHit(resolved, record)
    const reached = column('m.sled.travel').findIndex((x) => x + 0.5 >= 1.3)
    expect(Math.abs(hit!.at - record.time[reached]!)).toBeLessThanOrEqual(0.05)
  })

  it('without obstacles has no clearance, and is otherwise the run without a scene', () => {
    const [plain, empty] = [flown(documentOf(undefined)), flown(documentOf({}))]
    expect(empty.record.columns.map(({ name }) => name)).toEqual(plain.record.columns.map(({ name }) => name))
    expect(empty.column('m.sled.travel')).toEqual(plain.column('m.sled.travel'))
    expect(empty.record.hash).not.toBe(plain.record.hash)
  })

  it('is lit by its daylight in place of that of the machine, which makes no other run', () => {
    const sun = (height: number, clouds = 0) => ({ kind: 'daylight', height, heading: Math.PI / 2, clouds })
    const lit = (height: number, clouds?: number) => documentOf({ surroundings: { sun: sun(height, clouds) } })
    expect(runHash(lit(0.3), 'run')).toBe(runHash(lit(1.2, 0.5), 'run'))
    expect(flown(lit(0.3)).column('m.sled.travel')).toEqual(flown(documentOf({})).column('m.sled.travel'))
    const owns = { ...sled, surroundings: { sun: sun(0.1) } } as never
    const light = (height: number, clouds?: number) =>
      lightAround(inScene(owns, { kind: 'scene', surroundings: { sun: sun(height, clouds) } } as never))!
    expect(light(Math.PI / 6).towards).toBeNear([0, Math.cos(Math.PI / 6), 0.5], { absolute: 1e-12 })
    // at noon overhead, at night, and behind clouds
    expect(light(Math.PI / 2)).toMatchObject({ sun: 1, sky: 1 })
    expect(light(-0.2)).toMatchObject({ sun: 0, sky: 0.4 })
    expect(light(1, 1).sun).toBe(0)
    expect(lightAround(owns)!.towards[2]).toBeNear(Math.sin(0.1), { absolute: 1e-12 })
    expect(lightAround(sled as never)).toBeUndefined()
  })

  it('has its wind and its ground act, in place of those of the machine', () => {
    const machine = { ...sled, surroundings: { own: { kind: 'slope', grade: 0.1, heading: 0 }, breeze: { kind: 'steadyWind', velocity: [1, 0, 0] } } } // prettier-ignore
    const scene = { kind: 'scene', surroundings: { own: { kind: 'slope', grade: 0.3, heading: 0 }, breeze: { kind: 'steadyWind', velocity: [0, 2, 0] } } } // prettier-ignore
    expect((inScene(machine as never, scene as never) as unknown as { surroundings: object }).surroundings).toEqual({
      breeze: machine.surroundings.breeze,
      own: scene.surroundings.own,
      breezeOfScene: scene.surroundings.breeze,
    })
    const windy = { ...sled, forces: { drag: { kind: 'airDrag', body: 'sled', at: [0, 0, 0], linear: 4, quadratic: 0 } } }
    const document = {
      ...documentOf({ surroundings: { wind: { kind: 'steadyWind', velocity: [3, 0, 0] } } }, { after: 12, cues: {}, realism: realismWith(['sampling', 'air', 'gusts']) }), // prettier-ignore
      machines: { m: windy as never },
    } as Document
    // kp x = c w where it rests: a proportional law gives way by force over gain, common practice, no source
    expect(flown(document).column('m.sled.travel').at(-1)!).toBeNear((4 * 3) / 8, { absolute: 1e-2 })
  })

  it.each<[string, object, object, string]>([
    ['a scene that is not there', {}, { scene: 'yart' }, 'trials.run.scene: There is no scene named yart.'],
    ['an obstacle without size', { obstacles: { ball: shape('sphere', { radius: 0 }) } }, {}, 'scenes.yard.obstacles.ball.radius: The radius is 0 m; it must be more than 0 m.'], // prettier-ignore
  ])('%s is told where it stands', (_what, scene, trial, expected) => {
    const found = checkDocument(documentOf(scene, trial))
    expect(found.kind === 'refused' && found.problems.map(({ where, what }) => `${where}: ${what}`)).toEqual([expected])
  })

  it('refuses a cue that waits for a clearance, which a run does not know', () => {
    const late = { ...rise, waits: { kind: 'whenHolds', condition: 'm.clearance < 1' } }
    const { resolved } = expectDone(checkDocument(documentOf({ obstacles: { wall } }, { cues: { late } })))
    expect(compile(resolved, 'run')).toMatchObject({ problems: [{ where: 'trials.run.cues.late.waits.condition', what: 'The clearance is known once a run has ended.' }] }) // prettier-ignore
  })
})
