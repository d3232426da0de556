import { atan2 } from '../expression'
import { complex, eigenvalues, magnitude, overComplex, timesComplex } from '../algebra'
import type { Complex } from '../algebra'
import { rememberedOf } from '../document'
import { frequencyGrid, margins, responseAt, widened } from '../linear'
import type { Margins } from '../linear'
import { feltPoles, integralIsHidden } from './atRest'
import { closedLoop } from './closedLoop'
import { halfRate, lawSystem, loopGain, onUnitCircle, plantAt } from './loopModel'
import type { Gains, LoopModel } from './loopModel'

export interface AccountEntry {
  readonly name: 'machine' | 'law' | 'filters' | 'inner' | 'sensing' | 'lag' | 'hold' | 'delay'
  /** rad */
  readonly phase: number
}

export interface LoopAnalysis {
  readonly gains: Gains
  /** Why there is nothing linear to tell of its law; margins, account and curve are then empty. */
  readonly notLinear?: string
  readonly margins: Margins
  /** Of several gain crossings the one with the least phase margin: it is the one that must be feared. */
  readonly crossover?: number
  readonly phaseMargin?: number
  readonly gainMargin?: { readonly w: number; readonly factor: number }
  /** Phases at the crossover that add up to phaseMargin - pi. */
  readonly account: readonly AccountEntry[]
  readonly stable: boolean
  readonly closedPoles: readonly Complex[]
  /** Loop gain for drawing. */
  readonly curve: readonly { readonly w: number; readonly magnitude: number; readonly phase: number }[]
}

/** Three decades and more below half the rate, which is as far as it means something. */
export function analysisGrid(model: LoopModel): number[] {
  const top = halfRate(model) * 0.999
  return frequencyGrid(top / 1e4, top)
}

const noMargins: Margins = { phase: [], gain: [], sensitivityPeak: { factor: NaN, w: NaN } } as never

/** An edit of one loop has all of them looked at, in several places: those whose model and gains stay need no second look. */
const mostKept = 8
const analyses = new WeakMap<LoopModel, Map<string, LoopAnalysis>>()

/** Everything linear about a loop with its gains: margins, stability, phase account, curves. */
export function analyse(model: LoopModel, gains: Gains): LoopAnalysis {
  return rememberedOf(analyses, model, Object.entries(gains).join(' '), () => analysed(model, gains), mostKept)
}

function analysed(model: LoopModel, gains: Gains): LoopAnalysis {
  const { notLinear } = model.law
  if (notLinear !== undefined)
    return { gains, notLinear, margins: noMargins, account: [], stable: false, closedPoles: [], curve: [] }
  const loop = loopGain(model, gains)
  const grid = analysisGrid(model)
  const found = margins(loop, widened(loop, grid, halfRate(model)))
  const feared = leastMargin(found.phase)
  const closedPoles = polesFelt(model, gains)
  const stable = closedPoles.length > 0 && closedPoles.every((pole) => magnitude(pole) < 1)
  const gainMargin = [...found.gain].filter(({ factor }) => factor > 1).sort((a, b) => a.factor - b.factor)[0]
  return {
    gains,
    margins: found,
    ...(feared === undefined ? {} : { crossover: feared.w, phaseMargin: feared.margin }),
    ...(gainMargin === undefined ? {} : { gainMargin }),
    account: feared === undefined ? [] : phaseAccount(model, gains, feared.w, feared.margin),
    stable,
    closedPoles,
    curve: curveOf(loop, grid),
  }
}

/** The first of those that are alike. */
function leastMargin(crossings: Margins['phase']): Margins['phase'][number] | undefined {
  return crossings.reduce<Margins['phase'][number] | undefined>(
    (least, one) => (least === undefined || Math.abs(one.margin) < Math.abs(least.margin) ? one : least),
    undefined,
  )
}

function polesFelt(model: LoopModel, gains: Gains): readonly Complex[] {
  const poles = eigenvalues(closedLoop(model, gains).a) ?? []
  return model.law.gains.includes('ki') ? feltPoles(() => integralIsHidden(model), gains, poles) : poles
}

/** What each part between reference and push takes from or gives to the phase at the crossover. */
function phaseAccount(model: LoopModel, gains: Gains, w: number, margin: number): AccountEntry[] {
  const s = complex(0, w)
  const z = onUnitCircle(w, model.dt)
  const continuous = responseAt(model.plant, model.plant.dt === null ? s : z)?.[0]?.[0]
  const machineOnly = model.machineOnly()
  const bare = responseAt(machineOnly, machineOnly.dt === null ? s : z)?.[0]?.[0]
  const sampled = plantAt(model, w)?.g
  const truly = sampled?.[model.shown.truth]
  const c = responseAt(lawSystem(model, gains), z)?.[0]
  if (continuous === undefined || bare === undefined || sampled === undefined || truly === undefined || c === undefined) return []
  const { rate, signals, inner: commanded } = model.shown
  const others = [rate, ...signals].map((output, i) =>
    output === undefined ? complex(0) : timesComplex(c[i + 1]!, overComplex(sampled[output]!, sampled[0]!)),
  )
  const [re, im] = [sumOf(others.map((one) => one.re)), sumOf(others.map((one) => one.im))]
  // of a loop that commands another: how late that one follows
  const follows = commanded === undefined ? undefined : sampled[commanded]
  const inner = follows === undefined ? 0 : below(angle(follows))
  const machine = below(angle(bare)) - inner
  const lag = angle(overComplex(continuous, bare))
  const hold = angle(overComplex(truly, continuous))
  const delay = -w * model.dt * model.delay
  const behind = model.law.filters(model.dt).map((filter) => responseAt(filter, z)?.[0]?.[0])
  const filters = behind.reduce((sum, value) => sum + (value === undefined ? 0 : angle(value)), 0)
  const left = margin - Math.PI - machine - inner - filters - lag - hold - delay
  const direct = angle(complex(c[0]!.re - re, c[0]!.im - im)) - filters
  const turns = Math.round((left - direct) / (2 * Math.PI))
  const rest = left - 2 * Math.PI * turns
  // what is read may lag behind what is true, and estimators know more than that
  const isDirect = model.shown.truth === 0
  return [
    { name: 'machine', phase: machine },
    { name: 'law', phase: isDirect ? rest : direct },
    ...(behind.length === 0 ? [] : [{ name: 'filters', phase: filters } as const]),
    ...(follows === undefined ? [] : [{ name: 'inner', phase: inner } as const]),
    ...(isDirect ? [] : [{ name: 'sensing', phase: rest - direct } as const]),
    { name: 'lag', phase: lag },
    { name: 'hold', phase: hold },
    { name: 'delay', phase: delay },
  ]
}

function sumOf(values: readonly number[]): number {
  return values.reduce((all, value) => all + value, 0)
}

function curveOf(loop: (w: number) => Complex | undefined, grid: readonly number[]): LoopAnalysis['curve'] {
  let last = 0
  return grid.flatMap((w, i) => {
    if (i % 2 === 1) return [] // half the points are plenty for drawing
    const value = loop(w)
    if (value === undefined) return []
    const raw = angle(value)
    const phase = i === 0 ? below(raw) : raw + 2 * Math.PI * Math.round((last - raw) / (2 * Math.PI))
    last = phase
    return [{ w, magnitude: magnitude(value), phase }]
  })
}

function angle(value: Complex): number {
  return atan2(value.im, value.re)
}

/** The same angle in (-2 pi, 0]: a machine takes phase. Rounding just above 0 stays there. */
function below(phase: number): number {
  return phase > 1e-9 ? phase - 2 * Math.PI : phase
}
