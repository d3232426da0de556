// What stands around and is touched: solids by closed forms, meshes against looking at every triangle, and runs on both.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { Graph, assign, loadModule, printC, printWasm } from '../expression'
import type { Code, Flag, Scalar } from '../expression'
import { capsule, meshReport, meshTree, shapeProperties, shapes } from '../machine'
import type { Mesh, Shape } from '../machine'
import { partOf } from '../kinds'
import { clearanceTo, convexAt, distanceBetween, solidOf } from '../scene'
import { runC } from '../tests/compileC'
import { expectDone } from '../tests/expectDone'
import { blockMesh, landMesh } from '../tests/meshes'
import { oneMachine, realismWith } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { Layout } from './layout'
import { MeshQueries } from './meshQueries'
import { compile, findColumn, runHash, start, verdictsOf } from './index'

type Point = readonly [number, number, number]
type Seen = { readonly over: number; readonly normal: readonly number[] }

const shape = (kind: string, more: object = {}) => ({ kind, at: [0, 0, 0], turned: [0, 0, 0], ...more }) as unknown as Shape
const seenOf = (given: Shape, point: Point) =>
  shapes.find(({ name }) => name === given.kind)!.surface!(given as never, point) as unknown as Seen

const near = fc.double({ min: -2, max: 2, noNaN: true })
const points = fc.tuple(near, near, near)

describe('the surface of a solid', () => {
  const solids: [string, Shape][] = [
    ['box', shape('box', { size: [1, 2, 0.6] })],
    ['cylinder', shape('cylinder', { radius: 0.7, length: 1.1 })],
    ['sphere', shape('sphere', { radius: 0.8 })],
    ['capsule', shape('capsule', { radius: 0.4, length: 1.2 })],
  ]
  const here = { position: [0, 0, 0], rotation: [[1, 0, 0], [0, 1, 0], [0, 0, 1]] } as const // prettier-ignore
  it.each(solids)('of a %s is as far as its nearest point, and its direction is the slope of that', (_what, given) => {
    const convex = convexAt(solidOf(given)!, here)
    fc.assert(
      fc.property(points, (point) => {
        const { over, normal } = seenOf(given, point)
        const single = { support: () => point, margin: 0, centre: point, radius: 0 }
        expect(Math.max(0, over)).toBeNear(distanceBetween(single, convex), { absolute: 1e-7 })
        expect(Math.hypot(...normal)).toBeNear(1, { absolute: 1e-9 })
        // along its direction it is as much farther, wherever it is smooth there
        const step = 1e-6
        const moved = point.map((x, i) => x + step * normal[i]!) as unknown as Point
        expect((seenOf(given, moved).over - over) / step).toBeNear(1, { absolute: 1e-3 })
      }),
    )
  })

  it.each<[string, Shape, Point, number, Point]>([
    ['in a box, towards its nearest face', shape('box', { size: [2, 4, 6] }), [0.2, -1.5, 0.3], -0.5, [0, -1, 0]],
    ['in a box, at its middle plane', shape('box', { size: [2, 4, 6] }), [0.9, 0, 0], -0.1, [1, 0, 0]],
    ['in a cylinder, towards its side', shape('cylinder', { radius: 1, length: 4 }), [0.6, 0.6, 0.5], -(1 - 0.6 * Math.SQRT2), [Math.SQRT1_2, Math.SQRT1_2, 0]], // prettier-ignore
    ['in a cylinder, towards its end', shape('cylinder', { radius: 1, length: 1 }), [0.1, 0, -0.45], -0.05, [0, 0, -1]],
    ['over the round end of a capsule', shape('capsule', { radius: 0.5, length: 2 }), [0, 3, 5], 4.5, [0, 0.6, 0.8]],
  ])('%s: by hand', (_what, given, point, over, normal) => {
    const seen = seenOf(given, point)
    expect(seen.over).toBeNear(over, { absolute: 1e-12 })
    expect([...seen.normal]).toBeNear([...normal], { absolute: 1e-12 })
  })

  it('of a capsule holds a mass and an inertia that a sum over its slices has too', () => {
    const [radius, length, density] = [0.3, 0.8, 700]
    const found = shapeProperties(shape(capsule.name, { radius, length }), density)!
    let [mass, along, across] = [0, 0, 0]
    const [slices, whole] = [20_000, length + 2 * radius]
    for (let i = 0; i < slices; i++) {
      const z = ((i + 0.5) / slices - 0.5) * whole
      const past = Math.max(0, Math.abs(z) - length / 2)
      const square = radius ** 2 - past ** 2
      const slice = (density * Math.PI * square * whole) / slices
      mass += slice
      along += (slice * square) / 2
      across += slice * (square / 4 + z * z)
    }
    expect([found.mass, ...found.inertia]).toBeNear([mass, across, across, along, 0, 0, 0], { relative: 1e-6, absolute: 1e-9 })
  })
})

/** A program that looks at a mesh from a point in slots 0 to 2, and leaves what it saw in 3 to 6. */
function looking(mesh: Mesh): Code {
  const layout = new Layout(new Graph())
  const [point, seen] = [layout.many(3), layout.many(4)]
  const queries = new MeshQueries(layout, new Map([['hill', meshTree(mesh)]]))
  const { surface, before } = queries.look('hill', point as unknown as Point)
  const { over, normal } = surface
  const values = [over, ...normal].map((value: Scalar, i) => ({ slot: seen[i]!.index, value }))
  return {
    procedures: [
      ...queries.procedures,
      { name: 'go', body: [...before, assign(values)] },
      { name: 'prepare', body: [assign(queries.initial)] },
    ],
    slots: layout.slots,
  }
}

function looker(mesh: Mesh): (point: Point) => Seen {
  const program = loadModule(printWasm(looking(mesh)))
  program.call('prepare')
  const memory = program.memory()
  return (point) => {
    memory.set(point)
    program.call('go')
    return { over: memory[3]!, normal: [...memory.slice(4, 7)] }
  }
}

const bumpy = landMesh(9, 3, -0.7, (x, y) => 0.4 * Math.sin(2.1 * x) * Math.cos(1.7 * y) + 0.1 * Math.sin(5 * x + 3 * y))

describe('the surface of a mesh', () => {
  it('of a block is that of the block: over faces, edges and corners, outside and inside', () => {
    const [look, block] = [looker(blockMesh([1, 2, 0.6])), shape('box', { size: [1, 2, 0.6] })]
    fc.assert(
      fc.property(points, (point) => {
        const [seen, expected] = [look(point), seenOf(block, point)]
        expect(seen.over).toBeNear(expected.over, { absolute: 1e-12 })
        expect(Math.hypot(...seen.normal)).toBeNear(1, { absolute: 1e-12 })
        if (seen.over > 1e-6) expect(seen.normal).toBeNear([...expected.normal], { absolute: 1e-7 })
      }),
      { numRuns: 400 },
    )
  })

  it('of hills is that of the nearest of all triangles, whose side is told by how often a ray leaves it', () => {
    const look = looker(bumpy)
    fc.assert(
      fc.property(points, (point) => {
        const { over } = look(point)
        expect(Math.abs(over)).toBeNear(nearestOfAll(bumpy, point), { absolute: 1e-12 })
        if (Math.abs(over) > 1e-9) expect(over < 0).toBe(crossings(bumpy, point) % 2 === 1)
      }),
      { numRuns: 400 },
    )
  })

  it('of flat land is as far as the land lies below, all along a way over it and from one far place to the next', () => {
    const look = looker(landMesh(12, 3, -0.7, () => 0.1))
    for (let k = 0; k < 4000; k++) {
      const [x, y, z] = [
        1.3 * Math.sin(0.001 * k + (k % 7 === 0 ? 2 : 0)),
        1.3 * Math.cos(0.0007 * k),
        0.1 + 0.03 * (1 + Math.sin(k)),
      ]
      expect(Math.abs(look([x, y, z]).over - (z - 0.1))).toBeLessThan(1e-12)
    }
  })

  it('is the same from the same place, whatever was looked at before, and in C', () => {
    const code = looking(bumpy)
    const there: Point = [0.31, -0.22, 0.45]
    const program = loadModule(printWasm(code))
    program.call('prepare')
    const look = (point: Point) => {
      program.memory().set(point)
      program.call('go')
      return [...program.memory().slice(3, 7)]
    }
    const first = look(there)
    look([-1.4, 1.2, -0.6])
    expect(look(there)).toEqual(first)
    const inC = runC(printC(code), [...there, ...new Array<number>(code.slots - 3).fill(0)], ['prepare', 'go'], 7)
    expect([...inC.slice(3)]).toEqual(first)
  })

  it('encloses what its report says, by the volume of the block', () => {
    expect(meshReport(blockMesh([1, 2, 0.6]))).toMatchObject({ openEdges: 0, least: [-0.5, -1, -0.3], most: [0.5, 1, 0.3] })
    expect(meshReport(blockMesh([1, 2, 0.6])).volume).toBeNear(1.2, { relative: 1e-14 })
  })
})

/** Slowly: every triangle by its plane where the foot lies in it, else by its edges. */
function nearestOfAll({ vertices, triangles }: Mesh, point: Point): number {
  let best = Infinity
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = cornersOf({ vertices, triangles }, t)
    const normal = cross(minus(b, a), minus(c, a))
    const isOver = ([[a, b], [b, c], [c, a]] as const).every(([from, to]) => dot(cross(minus(to, from), minus(point, from)), normal) >= 0) // prettier-ignore
    const toEdge = ([from, to]: readonly [Point, Point]) => {
      const edge = minus(to, from)
      const share = Math.min(1, Math.max(0, dot(minus(point, from), edge) / dot(edge, edge)))
      return Math.hypot(...minus(point, from).map((x, i) => x - share * edge[i]!))
    }
    const far = isOver
      ? Math.abs(dot(minus(point, a), normal)) / Math.hypot(...normal)
      : Math.min(
          ...(
            [
              [a, b],
              [b, c],
              [c, a],
            ] as const
          ).map(toEdge),
        )
    best = Math.min(best, far)
  }
  return best
}

/** How often a ray from a point, in a direction that no edge has, goes through a mesh. */
function crossings(mesh: Mesh, point: Point): number {
  const along: Point = [0.3141, 0.2718, 0.9093]
  let count = 0
  for (let t = 0; t < mesh.triangles.length; t += 3) {
    const [a, b, c] = cornersOf(mesh, t)
    const across = cross(along, minus(c, a))
    const scale = dot(minus(b, a), across)
    const from = minus(point, a)
    const [u, turned] = [dot(from, across) / scale, cross(from, minus(b, a))]
    const v = dot(along, turned) / scale
    if (u >= 0 && v >= 0 && u + v <= 1 && dot(minus(c, a), turned) / scale > 0) count++
  }
  return count
}

function cornersOf({ vertices, triangles }: Mesh, t: number): readonly [Point, Point, Point] {
  const corner = (k: number) => [0, 1, 2].map((i) => vertices[3 * triangles[t + k]! + i]!) as unknown as Point
  return [corner(0), corner(1), corner(2)]
}
function minus(a: Point, b: Point): Point {
  return [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
}
function dot(a: Point, b: Point): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
}
function cross(a: Point, b: Point): Point {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
}

/** All that values are worked out from. */
function nodesOf(values: readonly Operand[], seen = new Set<Operand>()): Set<Operand> {
  for (const value of values) {
    if (typeof value !== 'object' || seen.has(value)) continue
    seen.add(value)
    nodesOf(value.operands, seen)
  }
  return seen
}
type Operand = Scalar | Flag

/** A ball of 2 kg that rests on its ground, and is thrown a little over what stands at a height of 1 m, or ground as high. */
const [radius, rests] = [0.1, 0.099]
const foot = { kind: 'groundContact', body: 'ball', at: [0, 0, 0], radius, level: 0, stiffness: 2e4, damping: 60, friction: 0.4, smooth: 1e-3 } // prettier-ignore
const ball = mechanismPart(
  {
    ball: {
      ...bodyPart(2, [0, 0, 0], [0.008, 0.008, 0.008], jointPart('free', 'ground', [0, 0, rests])),
      shapes: { skin: shape('sphere', { radius }) },
    },
  },
  { forces: { foot } },
)
const high = (z: number) => ({ kind: 'startNumber', state: 'ball.z', value: z - rests })
const along = { kind: 'startNumber', state: 'ball.vx', value: 0.7 }
const thrown = (scene: object, trial: object = {}, machine = ball): Document => ({
  ...oneMachine(machine, {}, { ...{ after: 1.5, method: 'adaptive', realism: realismWith(['contact']) }, starts: { high: high(1.3), along }, scene: 'yard', ...trial }), // prettier-ignore
  scenes: { yard: { kind: 'scene', ...scene } as never },
})
const hash = 'c'.repeat(64)
const meshOf = (mesh: Mesh) => (asked: string) => (asked === hash ? mesh : undefined)
const meshed = (more: object = {}) => shape('mesh', { file: 'hill.stl', mesh: hash, scale: [1, 1, 1], ...more })

function flown(document: Document, mesh?: Mesh) {
  const { resolved } = expectDone(checkDocument(document))
  const program = expectDone(compile(resolved, 'run', mesh === undefined ? {} : { findMesh: meshOf(mesh) }))
  const record = start(program).run({ trial: 'run', layers: [], seed: 1 })
  return { record, column: (name: string) => [...findColumn(record, name)!] }
}

const table = { size: [8, 8, 1] }
const own = ['x', 'y', 'z', 'vx', 'vz', 'wy'].map((name) => `m.ball.${name}`)

describe('a machine among what stands around', () => {
  const onGround = flown(thrown({ surroundings: { high: { kind: 'groundProfile', profile: [[-9, 1], [9, 1]] } } })) // prettier-ignore
  const closeTo = (run: ReturnType<typeof flown>, name: string, within: number) =>
    expect(run.column(name)).toBeNear(onGround.column(name), { absolute: within })

  it('falls onto a box, a wide ball, and a mesh of the box as onto ground that is as high', () => {
    const onBox = flown(thrown({ obstacles: { table: shape('box', { ...table, at: [0, 0, 0.5] }) } }))
    const onMesh = flown(thrown({ obstacles: { table: meshed({ at: [0, 0, 0.5] }) } }), blockMesh([8, 8, 1]))
    const onBall = flown(thrown({ obstacles: { table: shape('sphere', { radius: 1e5, at: [0, 0, 1 - 1e5] }) } }))
    expect(onGround.column('m.ball.z').at(-1)!).toBeNear(1 + radius - (2 * 9.80665) / 2e4 - rests, { absolute: 1e-4 })
    expect(onGround.column('m.ball.vx').at(-1)!).toBeNear((5 / 7) * 0.7, { relative: 0.05 })
    own.forEach((name) => closeTo(onBox, name, 1e-9))
    own.forEach((name) => closeTo(onMesh, name, 1e-9))
    own.forEach((name) => closeTo(onBall, name, 1e-3))
  })

  it('sees the nearest few of many: posts that it does not touch change nothing, and its equations do not grow with them', () => {
    const post = (i: number) => shape(i % 2 === 0 ? 'capsule' : 'box', { at: [Math.cos(i), 3 + i, i / 2], radius: 0.2, length: 1, size: [1, 2, 1] }) // prettier-ignore
    const yard = (posts: number) =>
      Object.fromEntries([
        ...Array.from({ length: posts }, (_, i) => [`post${i}`, post(i)]),
        ['table', shape('box', { ...table, at: [0, 0, 0.5] })],
      ])
    const [bare, many] = [0, 11].map((posts) => flown(thrown({ obstacles: yard(posts) })))
    own.forEach((name) => expect(many!.column(name)).toEqual(bare!.column(name)))
    const size = (posts: number) => {
      const { code } = expectDone(compile(expectDone(checkDocument(thrown({ obstacles: yard(posts) }))).resolved, 'run'))
      const { body } = code.procedures.find(({ name }) => name === 'derivative')!
      const last = body.at(-1)!
      return last.does === 'assign' ? nodesOf(last.values.map(({ value }) => value)).size : 0
    }
    expect(size(3)).toBeGreaterThan(100)
    expect(size(11)).toBe(size(3))
  })

  it('lies still on the slope of a turned box where friction holds it, and slides down where it does not', () => {
    const slope = (angle: number) => ({ obstacles: { ramp: shape('box', { ...table, at: [0, 0, 9], turned: [0, angle, 0] }) } })
    const slid = (angle: number) => {
      const sled = {
        ...ball,
        forces: { a: { ...foot, at: [0.2, 0, 0] }, b: { ...foot, at: [-0.1, 0.17, 0] }, c: { ...foot, at: [-0.1, -0.17, 0] } },
      }
      const trial = { starts: { high: high(9 + 0.5 / Math.cos(angle) + 0.2) }, after: 2 }
      return flown(thrown(slope(angle), trial, sled))
        .column('m.ball.vx')
        .at(-1)!
    }
    // tan of the angle below and above the coefficient of friction (common practice, no source)
    expect(Math.abs(slid(Math.atan(0.3)))).toBeLessThan(0.01)
    const steep = Math.atan(0.6)
    const rate = 9.80665 * (Math.sin(steep) - 0.4 * Math.cos(steep)) * Math.cos(steep)
    expect(slid(steep)).toBeGreaterThan(0.6 * 2 * rate)
  })

  it('bumps into a wall and bounces off; each bounce takes the same share of its speed', () => {
    const walls = { left: shape('box', { at: [-2, 0, 1.3], size: [2, 4, 4] }), right: meshed({ at: [2, 0, 1.3] }) }
    const trial = { after: 8, realism: realismWith(['contact']) }
    const drifting = { ...ball, gravity: 0, forces: { foot: { ...foot, damping: 20 } } }
    const { column, record } = flown(thrown({ obstacles: walls }, trial, drifting), blockMesh([2, 4, 4]))
    const speeds = column('m.ball.vx')
    const plateaus = speeds.filter((speed, i) => i > 20 && Math.abs(speed - speeds[i - 20]!) < 1e-9 * Math.abs(speed))
    const levels = plateaus.filter((speed, i) => i === 0 || Math.abs(speed - plateaus[i - 1]!) > 1e-3)
    expect(levels.length).toBeGreaterThan(3)
    const kept = levels.slice(1).map((speed, i) => -speed / levels[i]!)
    expect(kept).toBeNear(
      kept.map(() => kept[0]!),
      { relative: 1e-3 },
    )
    expect(kept[0]!).toBeGreaterThan(0.5)
    expect(record.ending.kind).toBe('finished')
  })

  it('knows how far it is from a mesh, to the nearest of all its triangles', () => {
    const scene = { kind: 'scene', obstacles: { hill: meshed({ at: [0.3, 0, -1], turned: [0, 0, 0.4] }) } } as never
    const found = clearanceTo(ball as never, scene, new Map([['hill', meshTree(bumpy)]]))!
    const [cos, sin] = [Math.cos(0.4), Math.sin(0.4)]
    for (const [x, y, z] of [
      [0, 0, 1],
      [2.5, 1, 0.4],
      [-0.4, 0.9, 0.2],
    ] as const) {
      const [dx, dy] = [x - 0.3, y]
      const inside: Point = [cos * dx + sin * dy, -sin * dx + cos * dy, z + 1]
      const q = found.positions.map(
        (name) => ({ 'ball.x': x, 'ball.y': y, 'ball.z': z - rests, 'ball.attitude.w': 1 })[name] ?? 0,
      )
      expect(found.at(q)).toBeNear(Math.max(0, nearestOfAll(bumpy, inside) - radius), { absolute: 1e-7 })
    }
  })
})

describe('the clearance of a body as a reading', () => {
  const near = { kind: 'clearanceReading', body: 'ball', at: [0, 0, 0], radius }
  const looking = { ...ball, readings: { near } }
  const yard = {
    table: shape('box', { ...table, at: [0, 0, 0.5] }),
    post: shape('capsule', { at: [0.6, 0.3, 1.6], radius: 0.1, length: 1 }),
    hill: meshed({ at: [0.2, -2, 1.4] }),
  }
  const watch = { room: { kind: 'watched', signal: 'm.clearance' } }
  const onMesh = blockMesh([0.6, 0.8, 0.5])

  it('is that which is worked out once a run has ended, by another way', () => {
    const { column } = flown(thrown({ obstacles: yard }, { watch }, looking), onMesh)
    const [room, found] = [column('m.readings.near.room'), column('m.clearance')]
    expect(Math.max(...found) - Math.min(...found)).toBeGreaterThan(0.1)
    // looked at anew every twentieth of a second: rows at which it changed
    const fresh = found.flatMap((value, i) => (i > 0 && value !== found[i - 1] && value > 0 ? [i] : []))
    expect(fresh.length).toBeGreaterThan(4)
    expect(fresh.map((i) => room[i]!)).toBeNear(
      fresh.map((i) => found[i]!),
      { absolute: 1e-6 },
    )
  })

  it('is what cues wait for, and checks and formulas look at', () => {
    const waits = { kind: 'whenHolds', condition: 'readings.near.room < 0.12' }
    const push = { kind: 'pushCue', at: 0, over: 0.2, body: 'ball', x: 0, y: 0, z: 5, waits }
    const checks = { apart: { kind: 'staysBeyond', signal: 'm.readings.near.room', side: 'above', limit: 0.05 } }
    const document = thrown({ obstacles: yard }, { cues: { push }, checks }, looking)
    const { record, column } = flown(document, onMesh)
    const room = column('m.readings.near.room')
    const began = record.cues!.find(({ cue }) => cue === 'push')!.began!
    const row = [...record.time].findIndex((_, i) => room[i]! < 0.12)
    expect(Math.abs(began - record.time[row]!)).toBeLessThan(0.0051)
    expect(verdictsOf(expectDone(checkDocument(document)).resolved, 'run', record)).toMatchObject([{ outcome: 'fails' }])
  })

  it('is held by a loop: a lift stops short of a ceiling', () => {
    const up = { axis: [0, 0, 1], start: 0 }
    const lift = mechanismPart(
      { cab: bodyPart(5, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 1], up)) },
      {
        gravity: 0,
        drives: { winch: { kind: 'effortDrive', joint: 'cab.travel', most: 200 } },
        readings: { near: { ...near, body: 'cab' } },
      },
    )
    const loop = { holds: 'readings.near.room', law: { kind: 'pdOnRate' }, pushes: 'drives.winch', tuning: { kind: 'typedGains', kp: 80, kd: 40 } } // prettier-ignore
    const go = { kind: 'stepCue', loop: 'gap', at: 0.1, by: -0.5 }
    const trial = { cues: { go }, after: 6, method: 'adaptive', realism: realismWith(['sampling']) }
    const { column } = flown(oneMachine(lift, { gap: loop }, trial))
    // counted from the ground below, 0.9 m at the start
    expect(column('m.readings.near.room').at(-1)!).toBeNear(0.4, { absolute: 1e-3 })
  })
})

describe('a mesh that stands in a scene', () => {
  const open = { ...blockMesh([1, 1, 1]), triangles: blockMesh([1, 1, 1]).triangles.slice(3) }
  const turned = { ...blockMesh([1, 1, 1]), triangles: blockMesh([1, 1, 1]).triangles.slice().reverse() }
  it.each<[string, Mesh | undefined, string]>([
    ['that is not here', undefined, 'The mesh hill.stl is not here.'],
    ['that is open', open, 'The mesh is not closed: 3 edges have no neighbour that runs the other way.'],
    ['that is inside out', turned, 'The mesh is inside out: its faces look inward.'],
  ])('%s is told at its place, with a remedy', (_what, mesh, what) => {
    const { resolved } = expectDone(checkDocument(thrown({ obstacles: { hill: meshed() } })))
    const found = compile(resolved, 'run', mesh === undefined ? {} : { findMesh: meshOf(mesh) })
    expect(found).toMatchObject({ kind: 'refused', problems: [{ where: 'scenes.yard.obstacles.hill', what }] })
  })

  it('makes another run where it is another', () => {
    const other = thrown({ obstacles: { hill: meshed({ mesh: 'd'.repeat(64) }) } })
    expect(runHash(other, 'run')).not.toBe(runHash(thrown({ obstacles: { hill: meshed() } }), 'run'))
  })

  it('and a capsule among obstacles must have a length', () => {
    const wrong = thrown({ obstacles: { pole: shape('capsule', { radius: 0.2, length: 0 }) } })
    expect(checkDocument(wrong)).toMatchObject({ kind: 'refused', problems: [{ where: 'scenes.yard.obstacles.pole.length' }] })
    expect(partOf(capsule, shape('capsule', { radius: 0.2, length: 1 }) as never).radius).toBe(0.2)
  })
})
