import {
  assemble,
  bodyPoses,
  findPush,
  groundUnder,
  heldQuantities,
  isBodiless,
  isGrounded,
  shortName,
  numbersOf,
  placedPoint,
  seatPose,
} from '../machine'
import type { Vector } from '../algebra'
import { asCued, commandedLoop } from '../control'
import { clearanceTo, inScene, sceneOf } from '../scene'
import type { Document, Part } from '../document'
import { namesIn, valuesOf } from '../kinds'
import { findColumn, leastOfColumn } from './record'
import type { LimitHit, Record } from './record'
import { clearanceOf } from './signals'
import { startingRest } from './startingRest'
import { trial } from './trial'

/** Rows of a record at which bodies are looked for under the ground. */
const mostLooks = 400
/** Share beyond a limit that is not yet worth a word. */
const barely = 1e-6

/** What limited a run, or started it off: nothing to balance it, stops that were reached, commands beyond what a drive can give, bodies below the ground, what it touched. */
export function limitsHit(document: Document, record: Record): readonly LimitHit[] {
  const { machine: name } = valuesOf(trial, document.trials[record.trial]!)
  const machine = document.machines[name]!
  return [
    ...letGo(document, name, record),
    ...stopsHit(machine, name, record),
    ...asOne(drivesAsked(document, machine, name, record), machine),
    ...underGround(inScene(machine, sceneOf(document, record.trial)), name, record),
    ...touched(document, name, record),
  ]
}

/** Whether the machine started where nothing balances it. */
function letGo(document: Document, name: string, { time }: Record): LimitHit[] {
  const rest = startingRest(document, name)
  if (rest.kind === 'refused' || rest.value.balances) return []
  return [{ sort: 'unbalanced', name, label: name, unit: '', at: 0, during: time.at(-1) ?? 0, limit: 0, farthest: 0 }]
}

/** When the machine touched what stands around it, or stood in it: at the start, or whenever somebody looked. */
function touched(document: Document, name: string, record: Record): LimitHit[] {
  const machine = document.machines[name]!
  const values =
    leastOfColumn(record, clearanceOf(name), 0, Number.MIN_VALUE) ??
    new Float64Array([isBodiless(machine) ? Infinity : atStart(document, name, record)])
  const first = values.findIndex((value) => value <= 0)
  if (first < 0) return []
  const step = record.time.length > 1 ? record.time[1]! - record.time[0]! : 0
  const during = step * values.reduce((count, value) => count + (value <= 0 ? 1 : 0), 0)
  return [{ sort: 'touch', name, label: name, unit: 'm', at: record.time[first]!, during, limit: 0, farthest: 0 }]
}

/** m: how far what stands around is at the start of a run. */
function atStart(document: Document, name: string, record: Record): number {
  const found = clearanceTo(document.machines[name]!, sceneOf(document, record.trial))
  if (found === undefined) return Infinity
  return found.at(found.positions.map((position) => findColumn(record, `${name}.${position}`)?.[0] ?? 0))
}

interface Watched extends Pick<LimitHit, 'sort' | 'name' | 'label' | 'unit'> {
  readonly values: Float64Array
  readonly least: number
  readonly most: number
}

/** How a signal goes beyond its ends, the worse of the two. */
function beyond({ time }: Record, { values, least, most, ...said }: Watched): LimitHit[] {
  const scale = Math.max(Math.abs(least === -Infinity ? 0 : least), Math.abs(most === Infinity ? 0 : most))
  const by = values.map((value) => Math.max(value - most, least - value))
  const passed = by.map((one) => (one > barely * scale ? 1 : 0))
  const first = passed.indexOf(1)
  if (first < 0) return []
  const worst = by.indexOf(by.reduce((a, b) => Math.max(a, b), -Infinity))
  const step = time.length > 1 ? time[1]! - time[0]! : 0
  const during = step * passed.reduce((sum, one) => sum + one, 0)
  return [{ ...said, at: time[first]!, during, limit: values[worst]! > most ? most : least, farthest: values[worst]! }]
}

function partsOf(machine: Part, group: string): [string, Part][] {
  return Object.entries((machine[group] ?? {}) as { readonly [name: string]: Part })
}

function stopsHit(machine: Part, name: string, record: Record): LimitHit[] {
  const quantities = heldQuantities(machine)
  return partsOf(machine, 'forces').flatMap(([, { kind, joint, least, most }]) => {
    const values = kind === 'jointStops' ? findColumn(record, `${name}.${joint as string}`) : undefined
    const quantity = quantities.find((one) => one.name === joint)
    if (values === undefined || quantity === undefined) return []
    const { label, unit } = quantity
    const ends = { least: least as number, most: most as number }
    return beyond(record, { sort: 'stop', name: joint as string, label, unit, values, ...ends })
  })
}

/** What several drives of one allocation do is one thing to say. */
function asOne(hits: readonly LimitHit[], machine: Part): LimitHit[] {
  const together = partsOf(machine, 'allocations').map(([, { drives }]) =>
    hits.filter(({ name }) => namesIn(drives).includes(name)),
  )
  const several = together.filter((some) => some.length > 1)
  const alone = hits.filter((hit) => !several.some((some) => some.includes(hit)))
  const told = several.map((some) => merged(some, { label: `${some[0]!.label} and ${some.length - 1} more` }))
  return [...told, ...alone]
}

/** Several hits as one: from the first that came, for as long as the longest. */
function merged(hits: readonly LimitHit[], said: Partial<Pick<LimitHit, 'name' | 'label'>>): LimitHit {
  const [at, during] = [Math.min(...hits.map((hit) => hit.at)), Math.max(...hits.map((hit) => hit.during))]
  return { ...hits[0]!, ...said, at, during }
}

/** What is asked of every push of the machine, by loops or cues, against what it can give. */
function drivesAsked(document: Document, machine: Part, name: string, record: Record): LimitHit[] {
  const group = isBodiless(machine) ? 'inputs' : 'drives'
  return partsOf(machine, group).flatMap(([one, part]) => {
    const push = isBodiless(machine) ? one : `drives.${one}`
    const most = (part.most ?? part.voltage) as number | undefined
    const least = (part.least as number | undefined) ?? (isBodiless(machine) || most === undefined ? undefined : -most)
    const through = record.columns.find((column) => column.name === `${name}.${push}.asked`)
    // what is spread over drives within their limits never goes beyond them, but stays there
    if (through !== undefined && most !== undefined) {
      const said = { sort: 'drive', name: push, label: shortName(push, machine), unit: through.unit } as const
      const pulls = least !== undefined && least < 0
      const ends = { least: pulls ? nearMost * least : (least ?? -Infinity), most: nearMost * most }
      return beyond(record, { ...said, ...ends, values: through.values }).map((hit) => ({
        ...hit,
        limit: hit.limit > 0 ? most : least!,
      }))
    }
    const values = askedOf(document, name, push, record)
    const said = findPush(machine, push)
    if (values === undefined || said === undefined || (most === undefined && least === undefined)) return []
    const { label, unit } = said
    return beyond(record, { sort: 'drive', name: push, label, unit, values, least: least ?? -Infinity, most: most ?? Infinity })
  })
}

/** What is asked of a push in all: nothing where neither a loop nor a cue moves it. */
function askedOf(document: Document, machine: string, push: string, record: Record): Float64Array | undefined {
  const whole = findColumn(record, asCued(push))
  if (whole !== undefined) return whole
  const loops = Object.keys(document.loops).filter((loop) => {
    const part = document.loops[loop]!
    return part.machine === machine && part.pushes === push && commandedLoop(push) === undefined
  })
  const columns = loops.flatMap((loop) => findColumn(record, `loops.${loop}.command`) ?? [])
  return columns.length === 0 ? undefined : columns[0]!.map((_, k) => columns.reduce((sum, column) => sum + column[k]!, 0))
}

/** Speed comes up to its limit through a lag, and never quite arrives. */
const nearMost = 0.999

function underGround(machine: Part, name: string, record: Record): LimitHit[] {
  const step = Math.max(1, Math.floor(record.time.length / mostLooks))
  const rows = Array.from({ length: Math.ceil(record.time.length / step) }, (_, k) => k * step)
  const during = (count: number) => count * step * (record.time.length > 1 ? record.time[1]! - record.time[0]! : 0)
  const said = (body: string, found: readonly { at: number; height: number; ground: number }[]): LimitHit[] => {
    const below = found.filter(({ height, ground }) => height < ground)
    if (below.length === 0) return []
    const deepest = below.reduce((a, b) => (a.height - a.ground < b.height - b.ground ? a : b))
    const { height: farthest, ground: limit } = deepest
    return [
      { sort: 'ground', name: body, label: body, unit: 'm', at: below[0]!.at, during: during(below.length), limit, farthest },
    ]
  }
  if (isBodiless(machine) || !isGrounded(machine)) return []
  const { positions, tree, seats, start } = assemble(machine, numbersOf(machine))
  const groundAt = groundUnder(machine)
  const columns = positions.map((position) => findColumn(record, `${name}.${position.name}`))
  const looks = rows.map((k) => ({ k, poses: bodyPoses(tree, columns.map((column, i) => column?.[k] ?? start[i]!)) })) // prettier-ignore
  return partsOf(machine, 'bodies').flatMap(([body, { centre }]) => {
    const seat = seats.get(body)
    if (seat === undefined || seat.body < 0) return []
    const found = looks.map(({ k, poses }) => {
      const at = record.time[k]!
      const [x, y, height] = placedPoint(seatPose(seat, poses), centre as unknown as Vector) as unknown as [
        number,
        number,
        number,
      ]
      return { at, height, ground: groundAt(x, y) }
    })
    return said(body, found)
  })
}
