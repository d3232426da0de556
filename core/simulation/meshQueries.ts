import {
  add,
  assign,
  atMost,
  call,
  clamp,
  div,
  entry,
  less,
  max,
  min,
  mul,
  not,
  or,
  repeatWhile,
  select,
  set,
  sqrt,
  square,
  sub,
  when,
} from '../expression'
import type { Assignment, NumberNode, Procedure, Scalar, Statement, Table } from '../expression'
import { cross, dot, minus, plus, scaled } from '../algebra'
import type { Vector } from '../algebra'
import { rememberedOf } from '../document'
import { nearestOnTriangle } from '../machine'
import type { MeshTree, NearestOnTriangle, Surface } from '../machine'
import { slotOf } from './layout'
import type { Layout } from './layout'

/** More than anything is far. */
export const endless = 1e300
/** So many triangles are looked at while a point stays near. */
const few = 4
/** m: nearer than this to the surface no direction is told from rounding. */
const tiny = 1e-12

/**
 * Nearest points of meshes. A few triangles that are nearest to a point are found by walking the boxes of the tree, without those
 * that are farther; as long as the point stays so near to where that was that no other can have become nearest, it is looked at
 * those few alone. A surface is the plane there: its distance is exact where it was looked for, and its derivative that of the
 * distance.
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

  /** What a point in the axes of a mesh sees of it, and what has to be worked out before that holds, once the point is known. */
  look(obstacle: string, point: Vector): { readonly surface: Surface; readonly before: readonly Statement[] } {
    const found = this.found()
    const surface = { over: add(found.over, dot(found.normal, minus(point, found.at))), normal: found.normal }
    return { surface, before: this.searches.get(obstacle)!.statements(point, found) }
  }

  private found(): Found {
    const three = () => this.layout.many(3) as unknown as Nodes
    const [over, reach] = this.layout.many(2) as [NumberNode, NumberNode]
    const list = this.layout.many(few)
    this.initial.push({ slot: slotOf(reach), value: -1 }, ...list.map((node) => ({ slot: slotOf(node), value: 0 })))
    return { over, reach, list, home: three(), at: three(), normal: three() }
  }
}

export type Nodes = readonly [NumberNode, NumberNode, NumberNode]

/** Where one point of one block keeps what it found. */
interface Found {
  /** m from the surface. */
  readonly over: NumberNode
  readonly at: Nodes
  readonly normal: Nodes
  /** The few nearest triangles, and how far from there it may go until others count, m: less than 0 where nobody has looked yet. */
  readonly list: readonly NumberNode[]
  readonly home: Nodes
  readonly reach: NumberNode
}

/** The search of one mesh: its memory and its procedures. */
class Search {
  readonly procedures: readonly Procedure[]
  private readonly point: Nodes
  private readonly over: NumberNode
  private readonly normal: Nodes
  /** m²: least so far. */
  private readonly best: NumberNode
  private readonly tried: NumberNode
  /** The few nearest triangles with the squares of their distances, m², in order; how far the last of them is at most. */
  private readonly near: readonly NumberNode[]
  private readonly far: readonly NumberNode[]
  private readonly bound: NumberNode

  constructor(
    layout: Layout,
    private readonly name: string,
    tree: MeshTree,
  ) {
    const three = () => layout.many(3) as unknown as Nodes
    ;[this.point, this.normal] = [three(), three()]
    ;[this.over, this.best, this.tried, this.bound] = layout.many(4) as unknown as Four
    ;[this.near, this.far] = [layout.many(few), layout.many(few)]
    const seen = nearestOnTriangle(this.point, reading(tree, name).cornersOf(this.tried))
    this.procedures = [...this.gathering(layout, tree, seen.square), ...this.comparing(layout, tree, seen)]
  }

  /** Looks from a point in the axes of the mesh. */
  statements(point: Vector, found: Found): readonly Statement[] {
    const { name, tried, far } = this
    const way = minus(point, found.home)
    const each = (procedure: string) => found.list.flatMap((one) => [set(slotOf(tried), one), call(`${name}${procedure}`)])
    const reach = mul(0.5 - 1e-9, sub(sqrt(far.at(-1)!), sqrt(far[0]!)))
    return [
      assign([...put(this.point, point), ...put(found.at, point)]),
      when(or(less(found.reach, 0), not(less(dot(way, way), square(found.reach)))), [
        // those that were nearest are now no farther than this
        set(slotOf(this.bound), select(less(found.reach, 0), endless, 0)),
        ...each('Bound'),
        // their boxes are as far, and must not be left out by rounding
        set(slotOf(this.bound), add(mul(this.bound, 1 + 1e-9), tiny * tiny)),
        call(`${name}Gather`),
        assign([...put(found.list, this.near), ...put(found.home, this.point), { slot: slotOf(found.reach), value: reach }]),
      ]),
      set(slotOf(this.best), endless),
      ...each('Compare'),
      call(`${name}Turn`),
      assign([...put(found.normal, this.normal), { slot: slotOf(found.over), value: this.over }]),
    ]
  }

  /** Finds the few nearest triangles. */
  private gathering(layout: Layout, tree: MeshTree, squareOfTried: Scalar): Procedure[] {
    const { name, point, tried, near, far, bound } = this
    const [box, last, measured] = layout.many(3) as [NumberNode, NumberNode, NumberNode]
    const read = reading(tree, name)
    const away = vectorOf((k) => max(0, max(sub(read.bound(box, k), point[k]), sub(point[k], read.bound(box, k + 3)))))
    const inside = [
      set(slotOf(tried), read.at('firsts', box)),
      set(slotOf(last), add(tried, read.at('counts', box))),
      repeatWhile(less(tried, last), [call(`${name}Consider`), set(slotOf(tried), add(tried, 1))]),
      set(slotOf(box), add(box, 1)),
    ]
    // it goes in where it is nearer, and those behind it move on
    const inOrder = (list: readonly NumberNode[], value: Scalar) =>
      list.map((node, i) => {
        const itself = select(less(measured, far[i]!), value, node)
        return i === 0 ? itself : select(less(measured, far[i - 1]!), list[i - 1]!, itself)
      })
    return [
      {
        name: `${name}Gather`,
        body: [
          assign([
            ...put(
              far,
              far.map(() => endless),
            ),
            { slot: slotOf(box), value: 0 },
          ]),
          repeatWhile(less(box, tree.skips.length), [
            when(atMost(dot(away, away), min(bound, far.at(-1)!)), inside, [set(slotOf(box), read.at('skips', box))]),
          ]),
        ],
      },
      {
        name: `${name}Consider`,
        body: [
          set(slotOf(measured), squareOfTried),
          when(less(measured, far.at(-1)!), [assign([...put(near, inOrder(near, tried)), ...put(far, inOrder(far, measured))])]),
        ],
      },
      { name: `${name}Bound`, body: [set(slotOf(bound), max(bound, squareOfTried))] },
    ]
  }

  /** Finds the nearest of few, and which way it faces. */
  private comparing(layout: Layout, tree: MeshTree, tried: NearestOnTriangle): Procedure[] {
    const { name, point, normal, over, best } = this
    const nearest = layout.many(3) as unknown as Nodes
    const [triangle, part] = layout.many(2) as [NumberNode, NumberNode]
    const isNearer = less(tried.square, best)
    const better = (nodes: readonly NumberNode[], values: readonly Scalar[]) =>
      put(
        nodes,
        nodes.map((node, i) => select(isNearer, values[i]!, node)),
      )
    const outward = reading(tree, name).outward(triangle, part)
    const between = minus(point, nearest)
    const far = sqrt(best)
    const side = select(less(dot(between, outward), 0), -1, 1)
    const upright = unit(outward)
    const away = vectorOf((k) => select(less(far, tiny), upright[k], div(mul(side, between[k]), far)))
    return [
      {
        name: `${name}Compare`,
        body: [assign(better([best, triangle, part, ...nearest], [tried.square, this.tried, tried.part, ...tried.nearest]))],
      },
      { name: `${name}Turn`, body: [assign([{ slot: slotOf(over), value: mul(side, far) }, ...put(normal, away)])] },
    ]
  }
}

type Four = readonly [NumberNode, NumberNode, NumberNode, NumberNode]

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

export function put(to: readonly NumberNode[], from: readonly Scalar[]): Assignment[] {
  return to.map((node, k) => ({ slot: slotOf(node), value: from[k]! }))
}

function vectorOf(of: (k: 0 | 1 | 2) => Scalar): Vector {
  return [of(0), of(1), of(2)]
}

function unit(of: Vector): Vector {
  return scaled(of, div(1, sqrt(dot(of, of))))
}
