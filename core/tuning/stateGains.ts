import { complex, identity, multiply, solve } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { cos, exp, sin } from '../expression'
import type { Outcome } from '../document'
import { minimalRealization, placePoles, regulator, sampledWithHold, withOutputs } from '../linear'
import type { StateSpace } from '../linear'
import type { LoopModel } from './loopModel'
import { noGains, outOfReach } from './tune'
import type { OutOfReach, Tuned } from './tune'

/** What state feedback weighs: one row for what is held, then one for each signal. */
export interface DeviationWeights {
  readonly deviations: readonly number[]
  readonly most: number
  /** Of the integral of the error, where the law has one. */
  readonly integral: number
}

/** The sampled machine in coordinates that are what the law reads, with the integral of the error behind them. */
interface Fed {
  readonly a: Matrix
  readonly b: Matrix
  readonly names: readonly string[]
}

/** Gains of state feedback by largest acceptable deviations (Bryson's rule): the sum over all samples. */
export function tuneByWeights(model: LoopModel, { deviations, most, integral }: DeviationWeights): Tuned {
  const fed = fedStates(model)
  if (fed.kind === 'outOfReach') return fed
  const { a, b, names } = fed.value
  const own = names.length - (hasIntegral(model) ? 1 : 0)
  if (deviations.length !== own) return wrongCount('deviations', deviations.length, names.slice(0, own))
  const all = [...deviations, ...(hasIntegral(model) ? [integral] : [])]
  if (all.some((one) => !(one > 0)))
    return outOfReach(
      'A largest acceptable deviation must be more than 0.',
      'Give what you would still accept; a large one counts little.',
    )
  const q = all.map((one, i) => all.map((_, j) => (i === j ? 1 / (one * one) : 0)))
  return gainsOf(model, regulator({ a, b, dt: model.dt }, { q, r: [[1 / (most * most)]] }))
}

/** Gains of state feedback from closed-loop poles, rad/s: those of the sampled machine at e^(p dt). */
export function tuneByPoles(model: LoopModel, poles: readonly Complex[]): Tuned {
  const fed = fedStates(model)
  if (fed.kind === 'outOfReach') return fed
  const { a, b, names } = fed.value
  if (poles.length !== names.length) return wrongCount('poles', poles.length, names)
  const sampled = poles.map(({ re, im }) => {
    const size = exp(re * model.dt)
    return complex(size * cos(im * model.dt), size * sin(im * model.dt))
  })
  return gainsOf(model, placePoles({ a, b }, sampled))
}

function hasIntegral({ law }: LoopModel): boolean {
  return law.gains.includes('ki')
}

function wrongCount(what: string, count: number, names: readonly string[]): OutOfReach {
  return outOfReach(`${count} ${what} are given for ${names.length} signals.`, `Give one for each of ${names.join(', ')}.`)
}

/** From u = -k z to the gains of the law: the error has the sense of the reference, its integral enters as it grows. */
function gainsOf(model: LoopModel, found: Outcome<{ readonly k: Matrix }>): Tuned {
  if (found.kind === 'refused') return outOfReach(found.problems[0]!.what, found.problems[0]!.remedy)
  const row = found.value.k[0]!
  const signals = Object.fromEntries(model.law.signals.map((signal, i) => [signal, row[i + 1]!]))
  return {
    kind: 'tuned',
    gains: { ...noGains, kp: row[0]!, ki: hasIntegral(model) ? -row.at(-1)! : 0, ...signals },
  }
}

const integralName = 'integral of the error'

/** The machine that the gains are made for: lags left out, sampled with its hold. The law must read its whole state. */
function fedStates(model: LoopModel): { readonly kind: 'fed'; readonly value: Fed } | OutOfReach {
  const { law, shown, dt } = model
  const machineOnly = model.machineOnly()
  const seen = minimalRealization(withOutputs(machineOnly, [0, ...shown.signals]))
  const names = [machineOnly.outputs[0]!, ...law.signals]
  const n = seen.a.length
  if (n !== names.length)
    return outOfReach(
      n > names.length
        ? `The machine moves in ${n} ways from this push; the law reads ${names.length} of them.`
        : `The machine moves in ${n} ways from this push; the law reads ${names.length} signals, some of which say the same.`,
      n > names.length ? 'Feed back more of its signals, or type the gains.' : 'Leave a signal out.',
    )
  const found = inOutputs(seen.dt === null ? sampledWithHold(seen, dt) : seen)
  if (found === undefined) return outOfReach('The signals do not tell its whole state apart.', 'Feed back other signals.')
  const { a, b } = found
  if (!hasIntegral(model)) return { kind: 'fed', value: { a, b, names } }
  // the integral of the error grows by -dt times what is held
  const grown = a.map((row) => [...row, 0])
  const last = [...identity(n)[0]!.map((value) => -dt * value), 1]
  return { kind: 'fed', value: { a: [...grown, last], b: [...b, [0]], names: [...names, integralName] } }
}

/** The same system with its outputs as states. `undefined` where they do not tell all of it. */
function inOutputs({ a, b, c }: StateSpace): { a: Matrix; b: Matrix } | undefined {
  const inverse = solve(c, identity(c.length))
  if (inverse === undefined) return undefined
  return { a: multiply(multiply(c, a), inverse), b: multiply(c, b) }
}
