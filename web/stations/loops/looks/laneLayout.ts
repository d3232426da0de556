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

export const ribbonSize = { width: 104, height: 30 } as const
const columnStep = 134
const rowStep = 40
const firstColumn = 66
const laneHead = 16

/** Loops of a machine by sample rate, the slowest lane first; along a lane, what commands before what is commanded. */
export function laneLayout(document: Document, machine: string): Lanes {
  const loops = Object.entries(document.loops).filter(([, part]) => part.machine === machine)
  const depthOf = (name: string) => loops.filter(([other]) => innerLoops(document, other).includes(name)).length
  const rates = [...new Set(loops.map(([, part]) => part.rate))].sort((a, b) => a - b)
  const lanes: RateLane[] = []
  const ribbons: Ribbon[] = []
  let top = 0
  for (const rate of rates) {
    const taken = new Map<number, number>()
    const mine = loops.filter(([, part]) => part.rate === rate)
    for (const [name, part] of mine) {
      const column = depthOf(name)
      const row = taken.get(column) ?? 0
      taken.set(column, row + 1)
      ribbons.push({ ...said(document, name, part), x: firstColumn + columnStep * column, y: top + laneHead + rowStep * row })
    }
    const height = laneHead + rowStep * Math.max(...taken.values())
    lanes.push({ rate, top, height })
    top += height
  }
  const right = Math.max(firstColumn, ...ribbons.map(({ x }) => x)) + ribbonSize.width
  return { lanes, ribbons, width: right + 84, height: top }
}

function said(document: Document, name: string, part: LoopPart): Omit<Ribbon, 'x' | 'y'> {
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
