import { applied, plus } from '../algebra'
import type { Placement } from '../algebra'
import { partsIn, rememberedOf } from '../document'
import type { Part } from '../document'
import { assemble, bodiesOf, bodyPoses, numbersOf, placementOf, seatPose } from '../machine'
import type { MeshTree, Seat, Shape } from '../machine'
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
  // the two that were nearest: they are so again, or nearly
  let last: readonly [number, number] = [0, 0]
  return {
    positions: assembly.positions.map(({ name }) => name),
    at: (q) => {
      const poses = bodyPoses(assembly.tree, q)
      const seated = new Map<Seat, Placement>()
      const poseOf = (seat: Seat) => {
        const known = seated.get(seat) ?? seatPose(seat, poses)
        seated.set(seat, known)
        return known
      }
      const placed = own.map((): Convex | undefined => undefined)
      const distance = ([i, j]: readonly [number, number], limit: number) => {
        const mine = (placed[i] ??= convexAt(own[i]!.solid, poseOf(own[i]!.seat)))
        return around[j]!.distance(mine, limit)
      }
      let nearest = distance(last, Infinity)
      // what cannot be nearer, by the balls around it, is not looked at
      const middles = own.map(({ seat, solid }) => middleOf(solid, poseOf(seat)))
      const whole = ballAround(middles, radii)
      around.forEach((other, j) => {
        if (apart(whole.centre, other.centre) - whole.radius - other.radius >= nearest) return
        middles.forEach((middle, i) => {
          if (apart(middle, other.centre) - radii[i]! - other.radius >= nearest || (i === last[0] && j === last[1])) return
          const found = distance([i, j], nearest)
          if (found < nearest) [nearest, last] = [found, [i, j]]
        })
      })
      return nearest
    },
  }
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
