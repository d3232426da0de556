import { Graph, tapeOf } from '../expression'
import { applied, plus } from '../algebra'
import type { Placement, Vector } from '../algebra'
import { partsIn, rememberedOf } from '../document'
import type { Part } from '../document'
import { assemble, bodiesOf, bodyPoses, numbersOf, placementOf, seatPose } from '../machine'
import type { Assembly, MeshTree, Seat, Shape } from '../machine'
import { distanceBetween } from './distance'
import type { Convex, Point } from './distance'
import { convexAt, middleOf, radiusOf, solidOf } from './solids'
import type { Solid } from './solids'

const world: Placement = {
  rotation: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  position: [0, 0, 0],
}

/** Names of the positions of a machine, and its least distance to the obstacles of a scene by their values, m. */
export interface Clearance {
  readonly positions: readonly string[]
  /** `limit`, m, where nothing is nearer than that: then it costs less. No number where a position is none. */
  readonly at: (q: ArrayLike<number>, limit?: number) => number
}

/**
 * How far the shapes of a machine are from what stands around; 0 where they touch. Nothing where there is nothing to keep
 * clear of, or the machine has no shape of which the distance is known.
 */
export function clearanceTo(
  machine: Part,
  scene: Part | undefined,
  meshes: ReadonlyMap<string, MeshTree> = new Map(),
): Clearance | undefined {
  const around = Object.entries(partsIn(scene?.obstacles)).flatMap(([name, one]) => standing(one as never, meshes.get(name)))
  const assembly = assemble(machine, numbersOf(machine))
  const own = Object.entries(bodiesOf(machine)).flatMap(([body, { shapes }]) =>
    Object.values(shapes ?? {}).flatMap((shape): Own[] => {
      const solid = solidOf(shape)
      return solid === undefined ? [] : [{ seat: assembly.seats.get(body)!, solid, radius: radiusOf(solid) }]
    }),
  )
  if (around.length === 0 || own.length === 0) return undefined
  const way = wayOf(assembly, own)
  const bodyOf = own.map(({ seat }) => seat.body)
  // m: by pair how far its body must have come until it may be as near as nothing, by what it was at least when looked at
  const freeTo = new Float64Array(own.length * around.length)
  // the two that were nearest: they are so again, or nearly
  let last = 0
  // m: what all pairs had at least, how far all had come then
  let [free, freeAt] = [0, 0]
  const look = (pair: number, limit: number) => {
    const i = Math.floor(pair / around.length)
    const { seat, solid, radius } = own[i]!
    const other = around[pair % around.length]!
    const pose = way.pose(seat)
    const balls = apart(middleOf(solid, pose), other.centre) - radius - other.radius
    const least = balls >= limit ? balls : other.distance(convexAt(solid, pose), limit)
    freeTo[pair] = least + way.come(seat.body)
    return least
  }
  return {
    positions: assembly.positions.map(({ name }) => name),
    at: (q, limit = Infinity) => {
      // a run that leaves all bounds says nothing of how far its solids have come
      for (let i = 0; i < q.length; i++) if (!Number.isFinite(q[i])) return NaN
      way.go(q)
      if (free - (way.comeInAll - freeAt) >= limit) return limit
      let nearest = limit
      const better = (pair: number) => {
        const found = look(pair, nearest)
        if (found < nearest) [nearest, last] = [found, pair]
      }
      if (!(freeTo[last]! - way.come(bodyOf[Math.floor(last / around.length)]!) >= nearest)) better(last)
      free = Infinity
      // what cannot be nearer, by how far it has come or by the balls around it, is not looked at
      for (let i = 0, pair = 0; i < own.length; i++) {
        const come = way.come(bodyOf[i]!)
        for (let j = 0; j < around.length; j++, pair++) {
          if (freeTo[pair]! - come < nearest && pair !== last) better(pair)
          free = Math.min(free, freeTo[pair]! - come)
        }
      }
      freeAt = way.comeInAll
      return nearest
    },
  }
}

interface Own {
  readonly seat: Seat
  readonly solid: Solid
  readonly radius: number
}

/** Where bodies are by the positions of a machine, and how far they have come: hundreds of times a second, so worked out in a row. */
function wayOf({ tree, positions }: Assembly, own: readonly Own[]) {
  const graph = new Graph()
  const poses = bodyPoses(
    tree,
    positions.map((_, i) => graph.slot(i)),
  )
  const carriers = [...new Set(own.map(({ seat }) => seat.body))].filter((body) => body >= 0)
  const seats = [...new Set(own.map(({ seat }) => seat))]
  const inRow = (all: readonly Placement[]) => tapeOf(all.flatMap(({ rotation, position }) => [...rotation.flat(), ...position]))
  const [carried, seated] = [inRow(carriers.map((body) => poses[body]!)), inRow(seats.map((seat) => seatPose(seat, poses)))]
  const reaches = carriers.map((body) => Math.max(...own.map((one) => (one.seat.body === body ? reachOf(one) : 0))))
  let now: readonly number[] | undefined
  /** Where seats are now, once somebody asks. */
  let places: readonly number[] | undefined
  let given: ArrayLike<number> = []
  /** m: no point of what a body carries has moved farther; what is fixed stays */
  const come = new Float64Array(tree.bodies.length)
  let comeInAll = 0
  return {
    get comeInAll() {
      return comeInAll
    },
    come: (body: number) => (body < 0 ? 0 : come[body]!),
    go: (q: ArrayLike<number>) => {
      const before = now
      now = carried.values(q)
      given = q
      places = undefined
      if (before === undefined) return
      // what a turn moves at 1 m is no more than the norm of what it changes (Frobenius over spectral)
      for (let i = 0, at = 0; i < carriers.length; i++, at += 12) {
        const by = (moved(before, now, at + 9, at + 12) + reaches[i]! * moved(before, now, at, at + 9)) * farther
        come[carriers[i]!]! += by
        comeInAll += by
      }
    },
    pose: (seat: Seat): Placement => {
      const all = (places ??= seated.values(given))
      const from = 12 * seats.indexOf(seat)
      const three = (k: number): Vector => [all[from + k]!, all[from + k + 1]!, all[from + k + 2]!]
      return { rotation: [three(0), three(3), three(6)], position: three(9) }
    },
  }
}

/** How far some numbers have moved in all. */
function moved(before: readonly number[], now: readonly number[], from: number, to: number): number {
  let sum = 0
  for (let k = from; k < to; k++) sum += (now[k]! - before[k]!) ** 2
  return Math.sqrt(sum)
}

/** m: of a ball about the middle of what carries a solid, which holds all of it. */
function reachOf({ seat, solid, radius }: Own): number {
  return apart(seat.place.position as Point, [0, 0, 0]) + apart(solid.placed.position as Point, [0, 0, 0]) + radius
}

/** Rounding of long ways must not hide what comes near. */
const farther = 1 + 1e-9

/** Something that stands around, with a ball that holds all of it. */
interface Standing extends Pick<Convex, 'centre' | 'radius'> {
  /** m, as `distanceBetween` gives it */
  readonly distance: (mine: Convex, limit: number) => number
}

/** By tree and place: a large mesh is not placed anew for every program. */
const standings = new WeakMap<MeshTree, Map<string, Standing>>()

function standing(shape: Shape, tree: MeshTree | undefined): Standing[] {
  if (tree !== undefined)
    return [rememberedOf(standings, tree, [...shape.at, ...shape.turned].join(' '), () => standingMesh(tree, placementOf(shape)))]
  const solid = solidOf(shape)
  if (solid === undefined) return []
  const convex = convexAt(solid, world)
  return [{ ...convex, distance: (mine, limit) => distanceBetween(mine, convex, limit) }]
}

/** A mesh by its triangles, of which whole boxes that are too far are left out. */
function standingMesh({ bounds, skips, firsts, counts, triangles, corners }: MeshTree, placed: Placement): Standing {
  const put = (point: Point) => plus(placed.position, applied(placed.rotation, point)) as Point
  const points = Array.from({ length: corners.length / 3 }, (_, c) =>
    put([corners[3 * c]!, corners[3 * c + 1]!, corners[3 * c + 2]!]),
  )
  const balls = Array.from(skips, (_, box) => {
    const middle = [0, 1, 2].map((k) => (bounds[6 * box + k]! + bounds[6 * box + 3 + k]!) / 2) as unknown as Point
    const half = [0, 1, 2].map((k) => (bounds[6 * box + 3 + k]! - bounds[6 * box + k]!) / 2) as unknown as Point
    return { centre: put(middle), radius: apart(half, [0, 0, 0]) }
  })
  return {
    ...balls[0]!,
    distance: (mine, limit) => {
      let nearest = limit
      for (let box = 0; box < skips.length;) {
        const { centre, radius } = balls[box]!
        if (apart(centre, mine.centre) - radius - mine.radius >= nearest) {
          box = skips[box]!
          continue
        }
        for (let t = firsts[box]!; t < firsts[box]! + counts[box]!; t++) {
          const own = [0, 1, 2].map((k) => points[triangles[3 * t + k]!]!) as [Point, Point, Point]
          nearest = Math.min(nearest, distanceBetween(mine, triangleOf(own), nearest))
        }
        box++
      }
      return nearest
    },
  }
}

function triangleOf(points: readonly [Point, Point, Point]): Convex {
  return {
    support: (along) => {
      const far = points.map((point) => point[0] * along[0] + point[1] * along[1] + point[2] * along[2])
      return points[far.indexOf(Math.max(...far))]!
    },
    margin: 0,
    ...ballAround(points, [0, 0, 0]),
  }
}

/** A ball that holds balls, about the middle of their middles. */
function ballAround(middles: readonly Point[], radii: readonly number[]): { readonly centre: Point; readonly radius: number } {
  const sum = middles.reduce<[number, number, number]>(([x, y, z], at) => [x + at[0], y + at[1], z + at[2]], [0, 0, 0])
  const centre: Point = [sum[0] / middles.length, sum[1] / middles.length, sum[2] / middles.length]
  return { centre, radius: Math.max(...middles.map((middle, i) => apart(centre, middle) + radii[i]!)) }
}

function apart(a: Point, b: Point): number {
  return Math.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2)
}
