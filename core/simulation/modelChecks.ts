import type { Scalar } from '../expression'
import type { Outcome, Part } from '../document'
import { designPoint, modes } from '../control'
import type { Mode } from '../control'
import type { StateSpace } from '../linear'
import { assemble, bodyPoses, closeChains, effectParts, fullMechanism, massAndCentre, numbersOf } from '../machine'
import { freeProgram } from './free'
import type { FreeRecord } from './free'
import { findColumn } from './record'

/** Free motion in the check: long enough to swing, short enough to wait for. */
const freeSeconds = 5
const freeStep = 5e-4
/** With stops, feet or cables, which are stiff while they touch. */
const stiffStep = 1e-4
const stiffKinds: readonly unknown[] = ['groundContact', 'jointStops', 'cable']
/** Energy that may be lost to rounding and steps, as a share of the largest kinetic energy. */
const mostDrift = 1e-4
/** The same where something touches and lets go: a step across the moment of touching costs the method its order. */
const mostDriftTouching = 5e-3

export interface ModelCheck {
  readonly name: string
  readonly holds: boolean
  readonly value: number
  /** '' for a pure number. */
  readonly unit: string
  readonly note: string
}

export interface HeldInput {
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly value: number
}

export interface RestingPoint {
  /** Positions of all joints, in the order of the assembly. */
  readonly q: readonly number[]
  readonly inputs: readonly HeldInput[]
  readonly residual: number
  /** The exact linear form about it. */
  readonly system: StateSpace
  readonly modes: readonly Mode[]
  /** Speeds of all coordinates by independent speed, with the modes' coordinates first. */
  readonly spread: readonly (readonly number[])[]
}

export interface ModelReport {
  readonly mass: number
  readonly centre: readonly number[]
  readonly joints: number
  readonly freedoms: number
  readonly checks: readonly ModelCheck[]
  readonly point: Outcome<RestingPoint>
  readonly swing: FreeRecord
}

/**
 * What an engineer looks at before trusting a mechanism: mass, freedoms, closed chains, energy over free motion from the
 * start, and where it rests with what drives must hold. The mechanism must have passed its problems.
 */
export function modelReport(machine: Part): ModelReport {
  const closure = closeChains(machine)
  if (closure.kind === 'open') throw new Error('A checked mechanism closes.')
  const { tree, speeds } = assemble(machine, numbersOf(machine))
  const { mass, centre } = massAndCentre(tree, bodyPoses(tree, closure.q))
  const swing = freeSwing(machine, closure.q, closure.kept)
  const point = restingPoint(machine)
  const chains = Object.keys((machine.chains ?? {}) as object).length
  const gap = Math.max(0, ...findColumn(swing as never, 'chains.gap')!)
  const drift = energyDrift(swing)
  const checks: ModelCheck[] = [
    {
      name: 'Total mass',
      holds: true,
      value: mass as number,
      unit: 'kg',
      note: `${Object.keys(machine.bodies as object).length} bodies`,
    },
    {
      name: 'Freedoms',
      holds: closure.freedoms > 0,
      value: closure.freedoms,
      unit: '',
      note: freedomNote(machine, closure.freedoms),
    },
    ...(chains === 0
      ? []
      : [
          {
            name: 'Closed chains',
            holds: gap < 1e-8,
            value: gap,
            unit: 'm',
            note: `${chains === 1 ? 'it closes' : `all ${chains} close`} while it moves${closure.redundant === 0 ? '' : `; ${closure.redundant} equations said the same twice`}`,
          },
        ]),
    {
      name: 'Energy drift',
      holds: drift < (isTouching(machine) ? mostDriftTouching : mostDrift) && swing.ending.kind === 'finished',
      value: drift,
      unit: '',
      note: `free motion, ${freeSeconds} s, losses counted, drives at 0`,
    },
    ...(point.kind === 'refused'
      ? []
      : [{ name: 'Rests', holds: true, value: point.value.residual, unit: '', note: 'largest acceleration left' }]),
  ]
  return {
    mass: mass as number,
    centre: centre as readonly number[],
    joints: speeds.length,
    freedoms: closure.freedoms,
    checks,
    point,
    swing,
  }
}

function restingPoint(machine: Part): Outcome<RestingPoint> {
  const point = designPoint(machine)
  if (point.kind === 'refused') return point
  const { states, inputs, residual, form, system, spread } = point.value
  const found = modes(system)
  return {
    kind: 'done',
    value: {
      q: states.slice(0, form.assembly.positions.length),
      inputs: form.inputs.map((input, i) => ({ ...input, value: inputs[i]! })),
      residual,
      system,
      modes: found.kind === 'done' ? found.value : [],
      spread,
    },
  }
}

function freeSwing(machine: Part, q: readonly Scalar[], kept: readonly number[]): FreeRecord {
  const program = freeProgram(machine, fullMechanism, kept)
  const step = isTouching(machine) ? stiffStep : freeStep
  const every = Math.round(0.01 / step)
  return program.run({ start: q as readonly number[], inputs: [], until: freeSeconds, step, every })
}

function isTouching(machine: Part): boolean {
  return Object.values((machine.forces ?? {}) as Record<string, Part>).some(({ kind }) => stiffKinds.includes(kind))
}

/** Largest change of kinetic + potential + stored + lost - put in, as a share of the largest energy that moved. */
export function energyDrift(record: FreeRecord): number {
  const parts = ['kinetic', 'potential', 'stored', 'lost'].map((name) => findColumn(record as never, `energy.${name}`)!)
  const supplied = findColumn(record as never, 'energy.supplied')!
  const total = Array.from(supplied, (put, k) => parts.reduce((sum, values) => sum + values[k]!, -put))
  const moved = Math.max(...parts[0]!, ...parts[3]!, 1e-9)
  return Math.max(...total.map((value) => Math.abs(value - total[0]!))) / moved
}

function freedomNote(machine: Part, freedoms: number): string {
  const driven = effectParts(machine).filter(({ kind }) => kind.input !== undefined).length
  const rest = freedoms - driven
  if (driven === 0) return 'none driven'
  return rest > 0 ? `${driven} driven, ${rest} free` : `${driven} driven`
}
