import { add, mul, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { applied, dot, plus, scaled, scalarProduct, scalarTranspose, solveDefinite } from '../../algebra'
import type { Placement } from '../../algebra'
import type { Part } from '../../document'
import { closeChains } from '../closeChains'
import { assemble, seatPose, structuralVector } from '../assemble'
import type { Assembly } from '../assemble'
import { actedOn, chainRowsOf, effectParts, gearedAssembly } from '../mechanismMotion'
import type { Read } from '../read'
import { biasEfforts, bodyPoses, effortsLeft, pointJacobian, massMatrix } from '../tree'
import { World } from '../world'
import { effortInput } from './efforts'
import { pushPart } from './pushPart'

type Rows = readonly (readonly Scalar[])[]

/**
 * What a unit of each drive's effort gives of each push on one body, pushes x drives, where the machine starts and stands
 * still: with w the pushes as forces on the body and u the efforts, both accelerate the body alike along all pushes,
 * J M⁻¹ Jᵀ w = J M⁻¹ Q u. Drives give what they are asked at once; chains stay closed.
 */
export function effectiveness(machine: Part, read: Read, pushes: readonly string[], drives: readonly string[]): Rows {
  const none = new Set<never>()
  const assembly = gearedAssembly(machine, read, none, assemble(machine, read))
  const { tree } = assembly
  const closure = closeChains(machine)
  const { q, kept } = closure.kind === 'closed' ? closure : { q: assembly.start, kept: [] }
  const state = { q, speeds: assembly.speeds.map(() => 0) }
  const poses = bodyPoses(tree, q)
  const own = effectParts(machine).flatMap(({ kind }) => (kind.states ?? []).map(() => 0))
  /** What is left with one drive alone at an effort. */
  const left = (drive: string, effort: number): Scalar[] => {
    const world = new World(machine, read, none, assembly, state, poses, 0)
    const inputs = effectParts(machine).flatMap(({ path, part, kind }) =>
      kind.input === undefined ? [] : [path === drive && effort !== 0 ? effortInput({ path, part, kind }, effort, read) : 0],
    )
    actedOn(world, machine, own, inputs, drive)
    return effortsLeft(world.efforts, biasEfforts(tree, state, world.forces))
  }
  const efforts = drives.map((drive) => {
    const still = left(drive, 0)
    return left(drive, 1).map((value, i) => sub(value, still[i]!))
  })
  const standing = { machine, read, assembly, state, poses, kept }
  const along = pushes.map((push) => directionOf(standing, push))
  const moved = accelerations(standing, [...along, ...efforts])
  const seen = (columns: Rows) => along.map((row) => columns.map((column) => sum(row.map((entry, i) => mul(entry, column[i]!)))))
  const [byPush, byEffort] = [seen(moved.slice(0, along.length)), seen(moved.slice(along.length))]
  return solveDefinite(byPush, byEffort)
}

/** The speed of a push's point along it, by every speed of the machine: a row of its Jacobian. */
function directionOf({ machine, read, assembly, state, poses }: Standing, push: string): Scalar[] {
  const part = pushPart(machine, push)
  const seat = assembly.seats.get(part.body as string)!
  const pose = seatPose(seat, poses)
  const given = part.axis as readonly [number, number, number]
  const length = Math.sqrt(given[0] ** 2 + given[1] ** 2 + given[2] ** 2)
  const axis = applied(pose.rotation, scaled(given, 1 / length))
  const point = plus(pose.position, applied(pose.rotation, structuralVector(part.at as readonly number[], `${push}.at`, read)))
  return pointJacobian(assembly.tree, state.q, seat.body, point, [...poses]).map(({ angular, linear }) =>
    dot(axis, part.sort === 'torque' ? angular : linear),
  )
}

interface Standing {
  readonly machine: Part
  readonly read: Read
  readonly assembly: Assembly
  readonly state: { readonly q: readonly Scalar[]; readonly speeds: readonly Scalar[] }
  readonly poses: readonly Placement[]
  /** Rows of its chains that say something new. */
  readonly kept: readonly number[]
}

/** M⁻¹ of columns of efforts, with chains closed: what they accelerate. */
function accelerations({ machine, read, assembly, state, poses, kept }: Standing, columns: Rows): Rows {
  const all = chainRowsOf(machine, read, assembly, state, poses)
  const rows = kept.map((row) => all[row]!.jacobian)
  const solved = scalarTranspose(solveDefinite(massMatrix(assembly.tree, state), scalarTranspose([...columns, ...rows])))
  const [free, held] = [solved.slice(0, columns.length), solved.slice(columns.length)]
  if (rows.length === 0) return free
  // what the chains take back: K M⁻¹ Kᵀ r = K M⁻¹ e
  const stiff = scalarProduct(rows, scalarTranspose(held))
  const reactions = solveDefinite(stiff, scalarProduct(rows, scalarTranspose(free)))
  return free.map((column, c) =>
    column.map((value, i) => add(value, sum(held.map((one, r) => mul(-1, mul(one[i]!, reactions[r]![c]!)))))),
  )
}
