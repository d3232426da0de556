import { add, assign, less, select } from '../expression'
import type { Assignment, NumberNode, Procedure, Statement } from '../expression'
import { dot, minus } from '../algebra'
import type { Vector } from '../algebra'
import type { Looking, MeshTree, Surface } from '../machine'
import { slotOf } from './layout'
import type { Layout } from './layout'
import { MeshQueries, endless, put } from './meshQueries'
import type { Nodes } from './meshQueries'

/** Beside the ground a ball touches no more at once than this, but where three things meet in less room than it has. */
const most = 2

/** What the points of a block see, with what has to be worked out before that holds. */
export interface Look extends Looking {
  /** Once all points are known. */
  readonly before: () => readonly Statement[]
}

/** A surface as a plane in memory: exact where it was looked for, with the slope of its distance there. */
interface Plane {
  readonly over: NumberNode
  readonly normal: Nodes
}

/**
 * How a program looks at what stands around. Surfaces are looked for before the equations that need them, as numbers alone:
 * these then see the few nearest as planes, however many there are, so that neither they nor their derivatives grow with that.
 */
export class Looks {
  private readonly meshes: MeshQueries

  constructor(
    private readonly layout: Layout,
    meshes: ReadonlyMap<string, MeshTree>,
  ) {
    this.meshes = new MeshQueries(layout, meshes)
  }

  get procedures(): readonly Procedure[] {
    return this.meshes.procedures
  }

  /** What a run begins with. */
  get initial(): readonly Assignment[] {
    return this.meshes.initial
  }

  /** Of one block of values. */
  of(): Look {
    const points: Assignment[] = []
    const steps: Statement[] = []
    return {
      mesh: (obstacle, point) => {
        const { surface, before } = this.meshes.look(obstacle, point)
        steps.push(...before)
        return surface
      },
      nearest: (point, seenFrom) => {
        const at = this.three()
        points.push(...put(at, point))
        const seen = seenFrom(at)
        const planes = seen.slice(0, most).map((): Plane => ({ over: this.layout.one(), normal: this.three() }))
        const found = nearestOf(seen, planes.length)
        steps.push(
          assign(
            planes.flatMap(({ over, normal }, i) => [
              { slot: slotOf(over), value: found[i]!.over },
              ...put(normal, found[i]!.normal),
            ]),
          ),
        )
        return planes.map(({ over, normal }) => ({ over: add(over, dot(normal, minus(point, at))), normal }))
      },
      before: () => (points.length === 0 ? steps : [assign(points), ...steps]),
    }
  }

  private three(): Nodes {
    return this.layout.many(3) as unknown as Nodes
  }
}

/** So many of the nearest surfaces, in order where there are more. */
function nearestOf(seen: readonly Surface[], count: number): readonly Surface[] {
  if (seen.length === count) return seen
  let best: readonly Surface[] = Array.from({ length: count }, () => ({ over: endless, normal: [0, 0, 1] }))
  for (const one of seen) {
    let left = one
    best = best.map((here) => {
      const isNearer = less(left.over, here.over)
      const [kept, moved] = [chosen(isNearer, left, here), chosen(isNearer, here, left)]
      left = moved
      return kept
    })
  }
  return best
}

function chosen(isFirst: ReturnType<typeof less>, a: Surface, b: Surface): Surface {
  const normal = a.normal.map((value, k) => select(isFirst, value, b.normal[k]!)) as unknown as Vector
  return { over: select(isFirst, a.over, b.over), normal }
}
