import { magnitude } from '../algebra'
import type { Scalar } from '../expression'
import { partsIn } from '../document'
import type { Outcome, Part } from '../document'
import { designPoint, modes, otherPoints } from '../control'
import {
  assemble,
  bodiesOf,
  bodyPoses,
  closeChains,
  effectParts,
  freeBodies,
  fullMechanism,
  isBodiless,
  massAndCentre,
  numbersOf,
  sensorParts,
} from '../machine'
import type { MechanismLayers } from '../machine'
import { expectationChecks } from './expectations'
import { freeProgram } from './free'
import type { FreeRecord } from './free'
import { measure } from './measure'
import type { ModelCheck, ModelReport, RestingPoint } from './report'
import { bodilessReport } from './bodilessReport'
import { findColumn } from './record'

/** Steps of inputs are looked at for so long. */
const stepSeconds = 2
const measuringSeed = 1
/** Free motion in the check: long enough to swing, short enough to wait for. */
const freeSeconds = 5
/** s between rows of the record: fine enough for sensors to be read between them. */
const finestRow = 1e-3
/** Energy that may be lost to rounding and steps, as a share of the largest kinetic energy. */
const mostDrift = 1e-4

/**
 * What an engineer looks at before trusting a machine that has passed its problems: for a mechanism mass, freedoms, closed
 * chains and energy over free motion from the start, for equations whether they stay bounded; and for all where they rest
 * and what must hold them there.
 */
export function modelReport(machine: Part, layers: MechanismLayers = fullMechanism): ModelReport {
  return isBodiless(machine) ? bodilessReport(machine, layers) : mechanismReport(machine, layers)
}

function mechanismReport(machine: Part, layers: MechanismLayers): ModelReport {
  const closure = closeChains(machine)
  if (closure.kind === 'open') throw new Error('A checked mechanism closes.')
  const { tree } = assemble(machine, numbersOf(machine))
  const { mass } = massAndCentre(tree, bodyPoses(tree, closure.q))
  const point = restingPoint(machine, layers)
  const fastest = point.kind === 'refused' ? 0 : Math.max(0, ...point.value.modes.map(({ pole }) => magnitude(pole)))
  const swing = freeSwing(machine, closure.q, closure.kept, layers, fastest)
  const chains = Object.keys(partsIn(machine.chains)).length
  const gap = Math.max(0, ...findColumn(swing as never, 'chains.gap')!)
  const drift = energyDrift(swing)
  const bodies = Object.keys(bodiesOf(machine)).length
  const checks: ModelCheck[] = [
    {
      name: 'Total mass',
      holds: true,
      value: mass as number,
      unit: 'kg',
      note: bodies === 1 ? '1 body' : `${bodies} bodies`,
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
      holds: drift < mostDrift && swing.ending.kind === 'finished',
      value: drift,
      unit: '',
      note: `free motion, ${freeSeconds} s, losses counted, drives at 0`,
    },
    ...(point.kind === 'refused' ? [] : [balanceCheck(point.value)]),
  ]
  return {
    freedoms: closure.freedoms,
    seconds: stepSeconds,
    checks: point.kind === 'refused' ? checks : [...checks, ...expectationChecks(machine, point.value.system, stepSeconds)],
    point,
    swing,
    measured: measure(machine, swing, layers, measuringSeed),
  }
}

function restingPoint(machine: Part, layers: MechanismLayers): Outcome<RestingPoint> {
  const point = designPoint(machine, undefined, layers)
  if (point.kind === 'refused') return point
  const { states, inputs, residual, form, system, spread, open, sharing, runs, leaves } = point.value
  const found = modes(system)
  return {
    kind: 'done',
    value: {
      q: states.slice(0, form.assembly.positions.length),
      runs: form.assembly.positions.flatMap(({ name, unit }) =>
        unit === '' || runs[name] === undefined ? [] : [{ name, unit, rate: runs[name] }],
      ),
      leaves,
      standing: [...new Set(Object.values(point.value.standing).flat())],
      others: Object.keys(runs).length > 0 ? [] : otherPoints(machine, layers, point.value),
      open,
      sharing,
      inputs: form.inputs.map((input, i) => ({ ...input, value: inputs[i]!, step: 1 })),
      residual,
      loads: Object.fromEntries(freeBodies(machine, layers, point.value)),
      system,
      modes: found.kind === 'done' ? found.value : [],
      spread,
    },
  }
}

/** m/s², rad/s² and their like: what may be left once the motion has gone on for a second. */
const mostLeft = 1e-3

function balanceCheck({ residual, leaves, runs }: RestingPoint): ModelCheck {
  if (runs.length === 0) return { name: 'Rests', holds: true, value: residual, unit: '', note: 'largest acceleration left' }
  const lasts = leaves < mostLeft
  return {
    name: 'Moves steadily',
    holds: lasts,
    value: lasts ? residual : leaves,
    unit: '',
    note: lasts
      ? 'largest acceleration left'
      : 'acceleration once it has gone on for a second: what runs on changes what acts, so the linear form is that of the moment',
  }
}

function freeSwing(
  machine: Part,
  q: readonly Scalar[],
  kept: readonly number[],
  layers: MechanismLayers,
  fastest: number,
): FreeRecord {
  const rate = Math.max(50, ...sensorParts(machine).map(({ part }) => part.rate))
  const program = freeProgram(machine, layers, kept, fastest)
  return program.run({
    start: q as readonly number[],
    inputs: [],
    until: freeSeconds,
    step: Math.max(finestRow, 0.5 / rate),
    every: 1,
  })
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
