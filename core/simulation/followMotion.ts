import type { Part } from '../document'
import { assemble, massMatrix, numbersOf } from '../machine'
import type { MechanismLayers } from '../machine'
import { freeProgram } from './free'

/** s between two looks of the loops that follow. */
const lookEvery = 0.002

/** A mechanism on its way: the whole state, and the accelerations. */
export interface Moment {
  readonly q: readonly number[]
  readonly speeds: readonly number[]
  readonly accelerations: readonly number[]
}

export interface FollowedDrive {
  readonly name: string
  readonly coordinate: string
  /** Index of its coordinate's speed. */
  readonly index: number
  /** Most effort, standing still. */
  readonly most: number
  /** Effort that holds it where the motion starts. */
  readonly holding: number
  /** What its rotor adds to the inertia of the joint. */
  readonly inertia: number
}

export interface Followed {
  readonly time: readonly number[]
  /** By drive, in the order asked. */
  readonly efforts: readonly (readonly number[])[]
  /** Largest distance of each driven coordinate from the motion. */
  readonly errors: readonly { readonly coordinate: string; readonly most: number }[]
  readonly diverged: boolean
}

interface Following {
  readonly time: readonly number[]
  readonly moments: readonly Moment[]
  readonly drives: readonly FollowedDrive[]
  readonly bandwidth: number
  readonly kept: readonly number[]
}

/**
 * A motion followed by one loop a drive, w² M (q_r - q) + 2 w M (q_r' - q') on top of what holds it at the start, M the
 * diagonal of its inertia there, within the most effort of the drive; the machine in full, its drives ideal.
 */
export function followMotion(
  machine: Part,
  layers: MechanismLayers,
  { time, moments, drives, bandwidth, kept }: Following,
): Followed {
  const ideal = withIdealDrives(machine, drives)
  const program = freeProgram(ideal, layers, kept)
  const { tree, positions, pairs } = assemble(machine, numbersOf(machine))
  const inertia = massMatrix(tree, { q: moments[0]!.q }) as number[][]
  const nq = positions.length
  const place = drives.map(({ index }) => pairs.indexOf(index))
  const start = [...moments[0]!.q, ...moments[0]!.speeds]
  const running = program.begin(start, lookEvery)
  let state: ArrayLike<number> = start
  const steps = Math.max(1, Math.round((time.at(-1)! - time[0]!) / lookEvery))
  const spacing = (time.length - 1) / steps
  const shown: { t: number; efforts: number[] }[] = []
  const errors = drives.map(() => 0)
  let diverged = false
  for (let k = 0; k <= steps && !diverged; k++) {
    const wanted = between(moments, k * spacing)
    const efforts = drives.map(({ index, most, holding, inertia: own }, d) => {
      const error = wanted.q(place[d]!) - state[place[d]!]!
      errors[d] = Math.max(errors[d]!, Math.abs(error))
      const rate = wanted.speed(index) - state[nq + index]!
      const asked = holding + (inertia[index]![index]! + own) * (bandwidth * bandwidth * error + 2 * bandwidth * rate)
      return Math.min(Math.max(asked, -most), most)
    })
    if (k % Math.max(1, Math.floor(steps / (time.length - 1))) === 0) shown.push({ t: time[0]! + k * lookEvery, efforts })
    const next = running.advance(efforts, 1)
    diverged = next === undefined
    state = next ?? state
  }
  return {
    time: shown.map(({ t }) => t),
    efforts: drives.map((_, d) => shown.map(({ efforts }) => efforts[d]!)),
    errors: drives.map(({ coordinate }, d) => ({ coordinate, most: errors[d]! })),
    diverged,
  }
}

function withIdealDrives(machine: Part, drives: readonly FollowedDrive[]): Part {
  const own = drives.map(({ name, coordinate, most }) => [
    name,
    { kind: 'effortDrive', joint: coordinate, most: Math.min(most, 1e12) },
  ])
  return { ...machine, drives: Object.fromEntries(own) as Record<string, Part>, sensors: {} }
}

/** Positions and speeds of the motion between its samples. */
function between(moments: readonly Moment[], at: number): { q: (i: number) => number; speed: (i: number) => number } {
  const k = Math.min(Math.floor(at), moments.length - 2)
  const share = at - k
  const of = (list: 'q' | 'speeds') => (i: number) =>
    moments[k]![list][i]! + share * (moments[k + 1]![list][i]! - moments[k]![list][i]!)
  return { q: of('q'), speed: of('speeds') }
}
