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
  readonly at: (q: readonly number[]) => number
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
    Object.values(shapes ?? {}).flatMap((shape) => {
      const solid = solidOf(shape)
      return solid === undefined ? [] : [{ seat: assembly.seats.get(body)!, solid }]
    }),
  )
  if (around.length === 0 || own.length === 0) return undefined
  const radii = own.map(({ solid }) => radiusOf(solid))
  const seats = [...new Set(own.map(({ seat }) => seat))]
  const seatOf = own.map(({ seat }) => seats.indexOf(seat))
  const placesAt = placesOf(assembly, seats)
  const way = waysOf(radii)
  // m: by pair what it was at least, and how far its solid had come then: until it has come that far it cannot be nearer
  const [atLeast, cameBy] = [new Float64Array(own.length * around.length), new Float64Array(own.length * around.length)]
  // the two that were nearest: they are so again, or nearly
  let last: readonly [number, number] = [0, 0]
  return {
    positions: assembly.positions.map(({ name }) => name),
    at: (q) => {
      const seated = placesAt(q)
      const middles = own.map(({ solid }, i) => middleOf(solid, seated[seatOf[i]!]!))
      middles.forEach((middle, i) => way.go(i, middle, seated[seatOf[i]!]!))
      const placed = own.map((): Convex | undefined => undefined)
      const distance = (i: number, j: number, limit: number) => {
        const mine = (placed[i] ??= convexAt(own[i]!.solid, seated[seatOf[i]!]!))
        const pair = i * around.length + j
        cameBy[pair] = way.come[i]!
        return (atLeast[pair] = around[j]!.distance(mine, limit))
      }
      let nearest = distance(...last, Infinity)
      // what cannot be nearer, by how far it has come or by the balls around it, is not looked at
      for (let i = 0, pair = 0; i < own.length; i++) {
        for (let j = 0; j < around.length; j++, pair++) {
          if (atLeast[pair]! - (way.come[i]! - cameBy[pair]!) >= nearest) continue
          const other = around[j]!
          const balls = apart(middles[i]!, other.centre) - radii[i]! - other.radius
          if (balls >= nearest) {
            atLeast[pair] = balls
            cameBy[pair] = way.come[i]!
            continue
          }
          const found = distance(i, j, nearest)
          if (found < nearest) [nearest, last] = [found, [i, j]]
        }
      }
      return nearest
    },
  }
}

/** Where seats are by the positions of a machine: hundreds of times a second, so worked out in a row. */
function placesOf({ tree, positions }: Assembly, seats: readonly Seat[]): (q: readonly number[]) => Placement[] {
  const graph = new Graph()
  const poses = bodyPoses(
    tree,
    positions.map((_, i) => graph.slot(i)),
  )
  const tape = tapeOf(
    seats.flatMap((seat) => {
      const { rotation, position } = seatPose(seat, poses)
      return [...rotation.flat(), ...position]
    }),
  )
  return (q) => {
    const all = tape.values(q)
    const three = (from: number): Vector => [all[from]!, all[from + 1]!, all[from + 2]!]
    return seats.map((_, i) => ({
      rotation: [three(12 * i), three(12 * i + 3), three(12 * i + 6)],
      position: three(12 * i + 9),
    }))
  }
}

/** How far solids have come, m, by the radii of the balls that hold them: no point of one has moved farther. */
function waysOf(radii: readonly number[]) {
  const come = new Float64Array(radii.length)
  const before = radii.map((): readonly [middle: Point, pose: Placement] | undefined => undefined)
  return {
    come,
    /** One is now there, within the ball of its radius about its middle. */
    go: (i: number, middle: Point, pose: Placement) => {
      const last = before[i]
      before[i] = [middle, pose]
      if (last !== undefined) come[i]! += (apart(middle, last[0]) + radii[i]! * turned(pose, last[1])) * farther
    },
  }
}

/** Rounding of long ways must not hide what comes near. */
const farther = 1 + 1e-9

/** No less than how far a point at 1 m from the middle goes while one pose becomes the other (Frobenius over spectral norm). */
function turned({ rotation: a }: Placement, { rotation: b }: Placement): number {
  if (a === b) return 0
  let sum = 0
  for (let i = 0; i < 3; i++) {
    for (let j = 0; j < 3; j++) sum += ((a[i]![j] as number) - (b[i]![j] as number)) ** 2
  }
  return Math.sqrt(sum)
}

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
