import { add, assign, call, clamp, div, entry, less, max, mul, repeatWhile, select, set, sqrt, sub, when } from '../expression'
import type { Assignment, NumberNode, Procedure, Scalar, Statement, Table } from '../expression'
import { cross, dot, minus, plus, scaled } from '../algebra'
import type { Vector } from '../algebra'
import { rememberedOf } from '../document'
import { nearestOnTriangle } from '../machine'
import type { MeshSurface, MeshTree } from '../machine'
import { slotOf } from './layout'
import type { Layout } from './layout'

/** m²: more than anything is far. */
const endless = 1e300
/** m: nearer than this to the surface no direction is told from rounding. */
const tiny = 1e-12

/** What a point sees of the meshes around, with what has to be worked out before that holds. */
export interface Looks {
  readonly surface: MeshSurface
  /** Once all points are known. */
  readonly before: () => readonly Statement[]
}

/**
 * Nearest points of meshes, each found by a procedure of its own that walks the boxes of its tree and leaves out all that are
 * farther than the best so far, beginning with the triangle that was nearest last time. A surface is the plane there: its
 * distance is exact where it was looked for, and its derivative that of the distance.
 */
export class MeshQueries {
  /** What a run begins with. */
  readonly initial: Assignment[] = []
  private readonly searches: ReadonlyMap<string, Search>

  constructor(
    private readonly layout: Layout,
    meshes: ReadonlyMap<string, MeshTree>,
  ) {
    this.searches = new Map([...meshes].map(([name, tree], i) => [name, new Search(layout, `mesh${i}`, tree)]))
  }

  get procedures(): readonly Procedure[] {
    return [...this.searches.values()].flatMap(({ procedures }) => procedures)
  }

  /** Of one block of values. */
  looks(): Looks {
    const asked: { readonly search: Search; readonly point: Vector; readonly found: Found }[] = []
    return {
      surface: (obstacle, point, seenBy) => {
        const search = this.searches.get(obstacle)!
        const known = asked.find((one) => one.search === search && one.found.seenBy === seenBy)
        const found = known?.found ?? this.found(seenBy)
        if (known === undefined) asked.push({ search, point, found })
        return { over: add(found.over, dot(found.normal, minus(point, found.at))), normal: found.normal }
      },
      before: () => asked.flatMap(({ search, point, found }) => search.statements(point, found)),
    }
  }

  private found(seenBy: string): Found {
    const [over, last, ...rest] = this.layout.many(8) as [NumberNode, NumberNode, ...NumberNode[]]
    this.initial.push({ slot: slotOf(last), value: 0 })
    return { seenBy, over, last, at: rest.slice(0, 3) as never, normal: rest.slice(3) as never }
  }
}

type Nodes = readonly [NumberNode, NumberNode, NumberNode]
type Five = readonly [NumberNode, NumberNode, NumberNode, NumberNode, NumberNode]

/** Where one point of one block keeps what it found. */
interface Found {
  readonly seenBy: string
  /** m from the surface. */
  readonly over: NumberNode
  /** The nearest triangle. */
  readonly last: NumberNode
  readonly at: Nodes
  readonly normal: Nodes
}

/** The search of one mesh: its memory and its procedures. */
class Search {
  readonly procedures: readonly Procedure[]
  private readonly point: Nodes
  private readonly nearest: Nodes
  private readonly normal: Nodes
  private readonly over: NumberNode
  /** m²: least so far; the triangle that has it, and which part of that is nearest. */
  private readonly best: NumberNode
  private readonly triangle: NumberNode
  private readonly part: NumberNode
  private readonly tried: NumberNode

  constructor(
    layout: Layout,
    private readonly name: string,
    tree: MeshTree,
  ) {
    const three = () => layout.many(3) as unknown as Nodes
    ;[this.point, this.nearest, this.normal] = [three(), three(), three()]
    ;[this.over, this.best, this.triangle, this.part, this.tried] = layout.many(5) as unknown as Five
    const [box, last] = layout.many(2) as [NumberNode, NumberNode]
    const { point, nearest, normal, over, best, triangle, part, tried } = this
    const read = reading(tree, name)
    const attempt = `${name}Try`
    const tries = nearestOnTriangle(point, read.cornersOf(tried))
    const isNearer = less(tries.square, best)
    const better = (node: NumberNode, value: Scalar) => ({ slot: slotOf(node), value: select(isNearer, value, node) })
    const betters = [better(best, tries.square), better(triangle, tried), better(part, tries.part)]
    const inside = [
      set(slotOf(tried), read.at('firsts', box)),
      set(slotOf(last), add(tried, read.at('counts', box))),
      repeatWhile(less(tried, last), [call(attempt), set(slotOf(tried), add(tried, 1))]),
      set(slotOf(box), add(box, 1)),
    ]
    const away = vectorOf((k) => max(0, max(sub(read.bound(box, k), point[k]), sub(point[k], read.bound(box, k + 3)))))
    const outward = read.outward(triangle, part)
    const between = minus(point, nearest)
    const far = sqrt(best)
    const side = select(less(dot(between, outward), 0), -1, 1)
    const upright = unit(outward)
    this.procedures = [
      {
        name: `${name}Nearest`,
        body: [
          assign([
            { slot: slotOf(best), value: endless },
            { slot: slotOf(box), value: 0 },
          ]),
          call(attempt),
          repeatWhile(less(box, tree.skips.length), [
            when(less(dot(away, away), best), inside, [set(slotOf(box), read.at('skips', box))]),
          ]),
          assign([
            { slot: slotOf(over), value: mul(side, far) },
            ...each(
              normal,
              vectorOf((k) => select(less(far, tiny), upright[k], div(mul(side, between[k]), far))),
            ),
          ]),
        ],
      },
      { name: attempt, body: [assign([...betters, ...nearest.map((node, k) => better(node, tries.nearest[k as 0]))])] },
    ]
  }

  /** Looks from a point in the axes of the mesh. */
  statements(point: Vector, found: Found): readonly Statement[] {
    return [
      assign([...each(this.point, point), ...each(found.at, point), { slot: slotOf(this.tried), value: found.last }]),
      call(`${this.name}Nearest`),
      assign([
        ...each(found.normal, this.normal),
        { slot: slotOf(found.over), value: this.over },
        { slot: slotOf(found.last), value: this.triangle },
      ]),
    ]
  }
}

/** What a program reads of a tree, by expressions that number its boxes, triangles and corners. */
function reading(tree: MeshTree, name: string) {
  const tables = tablesOf(tree, name)
  const at = (table: keyof MeshTree, index: Scalar, offset = 0) => entry(tables[table], index, offset)
  const three = (table: keyof MeshTree, index: Scalar) => vectorOf((k) => at(table, mul(3, index), k))
  const cornersOf = (triangle: Scalar) => {
    const [a, b, c] = three('triangles', triangle)
    return [three('corners', a), three('corners', b), three('corners', c)] as const
  }
  const facing = (triangle: Scalar) => {
    const [a, b, c] = cornersOf(triangle)
    return cross(minus(b, a), minus(c, a))
  }
  /** Where out is at a part of a triangle: its face, an edge with the face beyond, a corner with all faces around. */
  const outward = (triangle: Scalar, part: Scalar) => {
    const beyond = at('beyond', add(mul(3, triangle), clamp(sub(part, 1), 0, 2)))
    const edge = plus(unit(facing(triangle)), unit(facing(beyond)))
    const corner = three('leaning', at('triangles', add(mul(3, triangle), max(0, sub(part, 4)))))
    return vectorOf((k) => select(less(part, 1), facing(triangle)[k], select(less(part, 4), edge[k], corner[k])))
  }
  return { at, cornersOf, outward, bound: (box: Scalar, of: number) => at('bounds', mul(6, box), of) }
}

type Tables = Readonly<Record<keyof MeshTree, Table>>
/** One table a list: equations that are written twice must name the same one. */
const tables = new WeakMap<MeshTree, Map<string, Tables>>()

function tablesOf(tree: MeshTree, name: string): Tables {
  return rememberedOf(tables, tree, name, () => {
    const made = Object.entries(tree).map(([list, values]) => [list, { name: `${name}_${list}`, values }])
    return Object.fromEntries(made) as Tables
  })
}

function each(to: Nodes, from: Vector): Assignment[] {
  return to.map((node, k) => ({ slot: slotOf(node), value: from[k as 0] }))
}

function vectorOf(of: (k: 0 | 1 | 2) => Scalar): Vector {
  return [of(0), of(1), of(2)]
}

function unit(of: Vector): Vector {
  return scaled(of, div(1, sqrt(dot(of, of))))
}
