import { leastChange } from '../algebra'
import { Graph, assign, loadModule } from '../expression'
import type { NumberNode } from '../expression'
import { assert, done, partsIn, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import {
  bodyPoses,
  chainRowsOf,
  closeChains,
  closedPose,
  coordinateOf,
  effectParts,
  fullMechanism,
  mechanismForm,
  movedCoordinates,
  neededEfforts,
  numbersOf,
  poseCloser,
} from '../machine'
import type { MechanismForm, MechanismLayers } from '../machine'
import { followMotion } from './followMotion'
import type { Followed, Moment } from './followMotion'
import { Layout, slotOf } from './layout'
import { splineThrough } from './spline'
import type { Along, Passing } from './spline'
import { printed } from './printed'

/** Times at which a motion is looked at. */
const samples = 200
/** N or N·m: a push that no drive gives and that is no rounding. */
const noticed = 1e-6

export interface DriveEffort {
  /** `drives.hoist` */
  readonly name: string
  readonly unit: string
  readonly values: readonly number[]
  /** What it can give at its speed of the moment, in the sense of the effort; nothing for one without a limit. */
  readonly reach: readonly number[] | undefined
  readonly peak: number
  readonly rms: number
  /** Largest share of its reach. */
  readonly share: number | undefined
}

export interface MotionEffort {
  readonly time: readonly number[]
  readonly coordinates: readonly { readonly name: string; readonly unit: string; readonly along: readonly Along[] }[]
  /** Positions of all coordinates at each time, chains closed. */
  readonly poses: readonly (readonly number[])[]
  readonly drives: readonly DriveEffort[]
  /** Coordinates that would need a push that no drive gives, with the largest. */
  readonly unmet: readonly { readonly name: string; readonly unit: string; readonly most: number }[]
  /** The same motion followed by feedback loops in simulation. */
  readonly followed: Followed
}

/**
 * What each drive must deliver so that a mechanism makes a motion: exactly, by inverse dynamics with its chains closed,
 * and with loops that follow it in simulation. Coordinates that the motion does not name stay where they start unless
 * chains carry them along. Where several drives share a load, the efforts are the smallest that do it.
 */
export function motionEffort(machine: Part, name: string, layers: MechanismLayers = fullMechanism): Outcome<MotionEffort> {
  const part = partsIn(machine.motions)[name]!
  const form = mechanismForm(machine, numbersOf(machine))
  const path = pathOf(machine, part, form)
  if (path.kind === 'refused') return path
  const { time, moments, along } = path.value
  const closure = closeChains(machine)
  assert(closure.kind === 'closed', 'A checked mechanism closes.')
  const { positions, speeds } = form.assembly
  const drives = effectParts(machine).filter(({ part: drive, kind }) => kind.input !== undefined && drive.joint !== undefined)
  const at = drives.map(({ part: drive }) => indexOf(form, drive.joint as string))
  const effortsAt = createEfforts(machine, layers, form)
  const rowsAt = createRows(machine, form)
  const solved = moments.map((moment) => {
    const needed = effortsAt(moment)
    const rows = rowsAt(moment).filter((_, i) => closure.kept.includes(i))
    const columns = speeds.map((_, i) => [
      ...at.map((index) => (index === i ? 1 : 0)),
      ...rows.map(({ jacobian }) => jacobian[i] as number),
    ])
    const found = leastChange(columns, needed) ?? []
    const left = needed.map((effort, i) => effort - columns[i]!.reduce((sum, entry, k) => sum + entry * (found[k] ?? 0), 0))
    return { efforts: found, left }
  })
  const unmet = speeds.map((_, i) => ({
    name: positions[form.assembly.pairs.indexOf(i)]?.name ?? speeds[i]!.name,
    unit: effortUnit(speeds[i]!.unit),
    most: Math.max(...solved.map(({ left }) => Math.abs(left[i]!))),
  }))
  return done({
    time,
    coordinates: along,
    poses: moments.map(({ q }) => q),
    drives: drives.map(({ path: own, part: drive, kind }, k): DriveEffort => {
      const values = solved.map(({ efforts }) => efforts[k]!)
      const number = numbersIn(drive)
      const { reach } = kind
      const limits =
        reach === undefined
          ? undefined
          : moments.map((moment, i) => reach(number, values[i]! * moment.speeds[at[k]!]! > 0 ? moment.speeds[at[k]!]! : 0))
      return {
        name: own,
        unit: effortUnit(speeds[at[k]!]!.unit),
        values,
        reach: limits,
        peak: Math.max(...values.map(Math.abs)),
        rms: Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / values.length),
        share:
          limits === undefined ? undefined : Math.max(...values.map((value, i) => Math.abs(value) / Math.max(limits[i]!, 1e-12))),
      }
    }),
    unmet: unmet.filter(({ most }) => most > noticed),
    followed: followMotion(machine, layers, {
      time,
      moments,
      drives: drives.map(({ name: own, part: drive, kind }, k) => ({
        name: own,
        coordinate: drive.joint as string,
        index: at[k]!,
        most: kind.reach?.(numbersIn(drive), 0) ?? Infinity,
        holding: solved[0]!.efforts[k]!,
        inertia: (kind.armature?.({ number: numbersIn(drive), has: () => false }) ?? 0) as number,
      })),
      bandwidth: (part.bandwidth as number | undefined) ?? 20,
      kept: closure.kept,
    }),
  })
}

/** Numbers of a part by slot; 0 for what is left out. */
function numbersIn(part: Part): (slot: string) => number {
  return (slot) => (part[slot] as number | undefined) ?? 0
}

function effortUnit(speedUnit: string): string {
  return speedUnit === 'm/s' ? 'N' : 'N·m'
}

function indexOf({ assembly }: MechanismForm, coordinate: string): number {
  return coordinateOf(assembly, { q: assembly.start, speeds: assembly.speeds.map(() => 0) }, coordinate).index
}

/** All coordinates along the motion: named ones by their splines, the rest carried by chains or at rest. */
function pathOf(
  machine: Part,
  part: Part,
  form: MechanismForm,
): Outcome<{ time: number[]; moments: Moment[]; along: MotionEffort['coordinates'] }> {
  const names = movedCoordinates(part)
  const knots = part.knots as readonly (readonly number[])[]
  const times = knots.map(([t]) => t!)
  const splines = names.map((_, k) =>
    splineThrough(
      times,
      knots.map((row) => row[k + 1]!),
      part.passing as Passing,
    ),
  )
  const [first, last] = [times[0]!, times.at(-1)!]
  const time = Array.from({ length: samples + 1 }, (_, k) => (k === samples ? last : first + ((last - first) * k) / samples))
  const { positions, pairs, speeds } = form.assembly
  const at = names.map((name) => positions.findIndex((one) => one.name === name))
  const close = poseCloser(machine, names)
  const rowsAt = createRows(machine, form)
  const moments: Moment[] = []
  let before = closedPose(machine, form.assembly.start, []) ?? form.assembly.start
  for (const t of time) {
    const wanted = splines.map((spline) => spline(t))
    const asked = before.map((value, i) => (at.includes(i) ? wanted[at.indexOf(i)]!.q : value))
    const q = close(asked)
    if (q === undefined) {
      const what = `At ${Number(t.toPrecision(3))} s the chains cannot close with ${names.join(', ')} where the motion wants them.`
      return refusedFor('motion', what, 'Choose poses that its chains can reach.')
    }
    before = q
    const own = (of: 'v' | 'a') =>
      speeds.map((_, i) => {
        const k = at.findIndex((position) => pairs[position] === i)
        return k < 0 ? 0 : wanted[k]![of]
      })
    const free = speeds.map((_, i) => !at.some((position) => pairs[position] === i))
    const still = { q, speeds: speeds.map(() => 0), accelerations: [] }
    const v = carried(
      rowsAt(still).map(({ jacobian }) => ({ row: jacobian as readonly number[], bias: 0 })),
      own('v'),
      free,
    )
    const moving = { q, speeds: v, accelerations: [] }
    const a = carried(
      rowsAt(moving).map(({ jacobian, bias }) => ({ row: jacobian as readonly number[], bias: bias as number })),
      own('a'),
      free,
    )
    moments.push({ q, speeds: v, accelerations: a })
  }
  return done({
    time,
    moments,
    along: names.map((name, k) => ({ name, unit: positions[at[k]!]!.unit, along: time.map((t) => splines[k]!(t)) })),
  })
}

/** Values of all coordinates that keep chains closed, the free ones changed as little as can be. */
function carried(
  rows: readonly { row: readonly number[]; bias: number }[],
  given: readonly number[],
  free: readonly boolean[],
): number[] {
  if (rows.length === 0) return [...given]
  const change = leastChange(
    rows.map(({ row }) => row.map((entry, i) => (free[i] ? entry : 0))),
    rows.map(({ row, bias }) => -bias - row.reduce((sum, entry, i) => sum + entry * given[i]!, 0)),
  )
  return given.map((value, i) => value + (change?.[i] ?? 0))
}

/** Chain rows of a moment; the numbers of the machine are read once. */
function createRows(machine: Part, { assembly }: MechanismForm) {
  const read = numbersOf(machine)
  return ({ q, speeds }: Moment) => chainRowsOf(machine, read, assembly, { q, speeds }, bodyPoses(assembly.tree, q))
}

/** Needed efforts as a module of its own: a motion asks for them hundreds of times. */
function createEfforts(machine: Part, layers: MechanismLayers, form: MechanismForm): (moment: Moment) => number[] {
  const graph = new Graph()
  const layout = new Layout(graph)
  const [q, speeds, accelerations] = [form.assembly.positions, form.assembly.speeds, form.assembly.speeds].map((list) =>
    layout.many(list.length),
  ) as [NumberNode[], NumberNode[], NumberNode[]]
  const efforts = neededEfforts(machine, numbersOf(machine), layers, form, { q, speeds, accelerations })
  const out = layout.many(efforts.length)
  const body = [assign(out.map((node, i) => ({ slot: slotOf(node), value: efforts[i]! })))]
  const module = printed({ slots: layout.slots, procedures: [{ name: 'efforts', body }] })
  const loaded = loadModule(module)
  return (moment) => {
    const memory = loaded.memory()
    q.forEach((node, i) => (memory[slotOf(node)] = moment.q[i]!))
    speeds.forEach((node, i) => (memory[slotOf(node)] = moment.speeds[i]!))
    accelerations.forEach((node, i) => (memory[slotOf(node)] = moment.accelerations[i]!))
    loaded.call('efforts')
    return out.map((node) => memory[slotOf(node)]!)
  }
}
