import { commandedLoop, innerLoops, laws, pushOf } from '@calm-hand/core/control'
import type { Document, LoopPart } from '@calm-hand/core/document'
import { findKind, labelOf } from '@calm-hand/core/kinds'
import { findHeld } from '@calm-hand/core/machine'
import { shownUnit } from '../../../units'

export interface Ribbon {
  readonly name: string
  /** What people call it. */
  readonly label: string
  readonly law: string
  /** What it reads and what it asks for, with units. */
  readonly reads: string
  readonly asks: string
  readonly x: number
  readonly y: number
  /** The loop whose reference it commands. */
  readonly commands: string | undefined
  /** Where its command goes down to another lane. */
  readonly wayX: number
}

export interface RateLane {
  /** Hz */
  readonly rate: number
  readonly top: number
  readonly height: number
}

export interface Lanes {
  readonly lanes: readonly RateLane[]
  readonly ribbons: readonly Ribbon[]
  readonly width: number
  readonly height: number
}

export const ribbonSize = { width: 108, height: 30 } as const
const columnStep = 132
const rowStep = 38
const firstColumn = 24
const laneHead = 16
/** Between the ways of commands that go down beside one another. */
const wayStep = 5
const firstWay = 4
const ways = 4
/** Where what is asked of the machine is held: beyond the ways of others. */
export const outAt = 30
/** For what the last of them asks of the machine. */
const besideLast = 118

/**
 * Loops of a machine by sample rate, the slowest lane first; along a lane, what commands before what is commanded. Only a chain
 * shares a row, so that nothing is drawn over another.
 */
export function laneLayout(document: Document, machine: string): Lanes {
  const loops = Object.entries(document.loops).filter(([, part]) => part.machine === machine)
  const depthOf = (name: string) => loops.filter(([other]) => innerLoops(document, other).includes(name)).length
  const rates = [...new Set(loops.map(([, part]) => part.rate))].sort((a, b) => a - b)
  const lanes: RateLane[] = []
  const ribbons: Ribbon[] = []
  const waysTaken = new Map<number, number>()
  let top = 0
  for (const rate of rates) {
    const rows = new Map<string, number>()
    const mine = loops.filter(([, part]) => part.rate === rate).sort(([a], [b]) => depthOf(a) - depthOf(b))
    let free = 0
    for (const [name, part] of mine) {
      const outer = mine.find(([, { pushes }]) => commandedLoop(pushes) === name)
      const row = (outer === undefined ? undefined : rows.get(outer[0])) ?? free++
      rows.set(name, row)
      const x = firstColumn + columnStep * depthOf(name)
      const way = waysTaken.get(x) ?? 0
      waysTaken.set(x, way + 1)
      const wayX = x + ribbonSize.width + firstWay + wayStep * (way % ways)
      ribbons.push({ ...said(document, name, part), x, y: top + laneHead + rowStep * row, wayX })
    }
    const height = laneHead + rowStep * free
    lanes.push({ rate, top, height })
    top += height
  }
  const right = Math.max(firstColumn, ...ribbons.map(({ x }) => x)) + ribbonSize.width
  return { lanes, ribbons, width: right + besideLast, height: top }
}

function said(document: Document, name: string, part: LoopPart): Omit<Ribbon, 'x' | 'y' | 'wayX'> {
  const held = findHeld(document.machines[part.machine]!, part.holds)
  const push = pushOf(document, part)
  const inUnit = (one: { readonly label: string; readonly unit: string } | undefined) =>
    one === undefined ? '' : `${one.label}${one.unit === '' ? '' : ` ${shownUnit(one.unit)}`}`
  return {
    name,
    label: labelOf(part, name),
    law: findKind(laws, part.law)?.label ?? '',
    reads: inUnit(held),
    asks: inUnit(push),
    commands: commandedLoop(part.pushes),
  }
}
