import { partsIn } from '../document'
import type { Part } from '../document'
import { bodilessPoint, modes } from '../control'
import type { Mode } from '../control'
import type { MechanismLayers } from '../machine'
import { expectationChecks } from './expectations'
import { freeProgram } from './free'
import type { FreeRecord } from './free'
import type { ModelCheck, ModelReport } from './report'

/** s: free motion is looked at for some of the slowest time constants, between these. */
const shortest = 0.5
const longest = 300
/** Time constants that are looked at. */
const periods = 6
const rows = 1000

/** Checks of a machine without bodies: where it stays, and whether it stays bounded from its start with nominal inputs. */
export function bodilessReport(machine: Part, layers: MechanismLayers): ModelReport {
  const point = bodilessPoint(machine, layers)
  const system = point.kind === 'done' ? point.value.system : undefined
  const found = system === undefined ? undefined : modes(system)
  const swing = freeRun(machine, layers, found?.kind === 'done' ? found.value : [])
  const states = Object.keys(partsIn(machine.states)).length
  const inputs = Object.keys(partsIn(machine.inputs)).length
  const checks: ModelCheck[] = [
    { name: 'States', holds: true, value: states, unit: '', note: inputs === 1 ? 'one input' : `${inputs} inputs` },
    {
      name: 'Stays bounded',
      holds: swing.ending.kind === 'finished',
      value: swing.time.at(-1) ?? 0,
      unit: 's',
      note:
        swing.ending.kind === 'diverged'
          ? `${swing.ending.state} runs away at ${Number(swing.ending.at.toPrecision(3))} s`
          : 'from its start, inputs at their nominal values',
    },
    ...(point.kind === 'refused'
      ? []
      : [{ name: 'Balances', holds: true, value: point.value.residual, unit: '', note: restNote(point.value.running) }]),
  ]
  const seconds = swing.time.at(-1) ?? shortest
  return {
    freedoms: undefined,
    seconds,
    checks: system === undefined ? checks : [...checks, ...expectationChecks(machine, system, seconds)],
    swing,
    measured: [],
    point:
      point.kind === 'refused'
        ? point
        : {
            kind: 'done',
            value: {
              q: point.value.states,
              runs: point.value.form.states.flatMap(({ name, unit }) =>
                point.value.running.includes(name) ? [{ name, unit, rate: point.value.runs[name] ?? 0 }] : [],
              ),
              leaves: 0,
              standing: [],
              others: [],
              loads: {},
              open: point.value.open,
              sharing: point.value.sharing,
              inputs: point.value.form.inputs.map(({ name, label, unit }, i) => ({
                name,
                label,
                unit,
                value: point.value.inputs[i]!,
                step: stepOf(machine, name),
              })),
              residual: point.value.residual,
              system: point.value.system,
              modes: found?.kind === 'done' ? found.value : [],
              spread: [],
            },
          },
  }
}

/** A tenth of what an input can do, in one figure; 1 without limits. */
function stepOf(machine: Part, name: string): number {
  const { least, most } = partsIn(machine.inputs)[name]!
  if (least === undefined || most === undefined) return 1
  return Number((0.1 * ((most as number) - (least as number))).toPrecision(1))
}

function restNote(running: readonly string[]): string {
  return running.length === 0
    ? 'largest rate left'
    : `largest rate left; ${running.join(', ')} ${running.length === 1 ? 'runs' : 'run'} on`
}

/** Long enough for the slowest mode to be seen, in steps that the fastest allows. */
function freeRun(machine: Part, layers: MechanismLayers, found: readonly Mode[]): FreeRecord {
  const sampleTime = machine.sampleTime as number | undefined
  const speeds = found.map(({ frequency, timeConstant }) => Math.max(frequency, 1 / (timeConstant ?? Infinity)))
  const program = freeProgram(machine, layers, [], Math.max(0, ...speeds))
  const slowest = Math.min(...speeds.filter((speed) => speed > 1e-4), 1)
  const until = Math.min(Math.max(periods / slowest, shortest), longest)
  if (sampleTime !== undefined)
    return program.run({ until, step: sampleTime, every: Math.max(1, Math.ceil(until / sampleTime / rows)) })
  return program.run({ until, step: until / rows, every: 1 })
}
