import { complex, eigenvalues, magnitude, overComplex, plusComplex, solveComplex, timesComplex } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import type { LinearEstimator } from '../control'
import { commandedLoop, linearEyes, linearMachine, outerFirst, seenBy } from '../control'
import { done, partHash, refusedFor, remembered } from '../document'
import type { Document, Outcome } from '../document'
import { between, lookedAtBefore, minimalRealization, remembering, responder, sampledWithHold } from '../linear'
import type { MatrixFunction, StateSpace } from '../linear'
import { designLayers, findHeld } from '../machine'
import { periodMap } from './cascade'
import type { ClosedLoop } from './ticker'
import { designLoop } from './design'
import { lawSystem, onUnitCircle } from './loopModel'
import { isReadAs, withRates } from './sight'

/** Where all loops of a machine are opened at once. */
export type Cut = 'commands' | 'pushes' | 'readings'

/** The loop gain of all closed loops of a machine, negative feedback, opened at every cut of one sort. */
export interface OpenedLoops {
  /** Names of the cuts: of loops, of pushes, of quantities that are read. */
  readonly cuts: readonly string[]
  /** rad/s: half the rate of the fastest loop at each of them */
  readonly tops: readonly number[]
  readonly gain: MatrixFunction
}

export interface LoopsTogether {
  readonly loops: readonly string[]
  /** Loops that count as standing still: open, or without a linear form. */
  readonly still: readonly string[]
  /** Whether all of them closed are stable, by the exact map over their common period; nothing where their rates do not divide one another. */
  readonly stable: boolean | undefined
  /** rad/s: half of the fastest rate */
  readonly top: number
  readonly opened: (at: Cut) => OpenedLoops
}

/**
 * All closed loops of a machine together. Every loop acts at its own rate: what it holds between its samples and its delay
 * count exactly; the images that the sampling of slower loops makes are left out, which matters little where those have little
 * gain at half their rate. Estimators that loops read are in it, in the verdict as well, but for that of a whole pose.
 */
export function loopsTogether(document: Document, machine: string): Outcome<LoopsTogether> {
  const part = document.machines[machine]!
  const closed: ClosedLoop[] = []
  const still: string[] = []
  for (const name of outerFirst(document, machine)) {
    const design = designLoop(document, name)
    if (design.kind === 'refused') return design
    const { values, model } = design.value
    if (!values.closed || model.law.notLinear !== undefined) still.push(name)
    else closed.push({ name, ...design.value })
  }
  const names = closed.map(({ name }) => name)
  if (closed.length === 0)
    return refusedFor('loops', `No loop of ${machine} is closed.`, 'Switch the feedback of one of them on.')
  const linear = linearMachine(part, designLayers.all)
  if (linear.kind === 'refused') return linear
  const rates = closed.map(({ values }) => values.rate)
  const { system } = linear.value
  const responses = responsesOf(document, machine, system, closed)
  return done({
    loops: names,
    still,
    stable: isStableTogether(periodMap(part, system, closed, linearEyes(document, machine)), closed),
    top: Math.PI * Math.max(...rates) * 0.999,
    opened: (at) => openedAt(responses, at),
  })
}

/** A pole this near to 1 belongs to an integral without a gain. */
const idle = 1e-9

function isStableTogether(map: Matrix | undefined, closed: readonly ClosedLoop[]): boolean | undefined {
  if (map === undefined) return undefined
  const poles = eigenvalues(map)
  const idleIntegrals = closed.filter(({ model, gains }) => model.law.gains.includes('ki') && gains.ki === 0).length
  if (poles === undefined) return false
  const atOne = poles.filter(({ re, im }) => magnitude(complex(re - 1, im)) < idle).length
  const outside = poles.filter((pole) => magnitude(pole) >= 1 - 1e-12).length
  return outside - Math.min(atOne, idleIntegrals) <= 0
}

type ComplexMatrix = Complex[][]

/** Everything at one frequency; loops, pushes and quantities in the order of `Responses`. */
interface Blocks {
  /** quantities x pushes: the machine */
  readonly g: ComplexMatrix
  /** loops x quantities: what a loop asks for over what is truly there, its law and estimator */
  readonly w: ComplexMatrix
  /** loops x loops: what a loop asks for over what the loops command: through an estimator, or as a reference */
  readonly r: ComplexMatrix
  /** loops: hold and delay */
  readonly d: readonly Complex[]
}

interface Responses {
  readonly loops: readonly string[]
  /** Hz, by loop */
  readonly rates: readonly number[]
  /** What each loop reads, by index. */
  readonly reads: readonly (readonly number[])[]
  readonly pushes: readonly string[]
  readonly quantities: readonly string[]
  /** The push of each loop, by index; -1 where it commands another. */
  readonly pushOf: readonly number[]
  readonly at: (w: number) => Blocks | undefined
}

/** An estimate as a loop reads it: a row of an estimator's response, whose columns are what that reads, then the pushes. */
interface Estimate {
  readonly row: number
  readonly of: (w: number) => readonly (readonly Complex[])[] | undefined
  /** s between what it tells */
  readonly dt: number
  /** By index of `Responses`; -1 for a push that no loop moves. */
  readonly reads: readonly number[]
  readonly pushes: readonly number[]
}

function responsesOf(document: Document, machine: string, system: StateSpace, closed: readonly ClosedLoop[]): Responses {
  const part = document.machines[machine]!
  const eyes = linearEyes(document, machine).map((design) => ({ design, of: estimatorResponse(design) }))
  const readsOf = ({ values, model }: ClosedLoop) => seenBy(part, values.holds, model.law.signals)
  const estimatorOf = ({ values }: ClosedLoop, quantity: string) =>
    eyes.filter(({ design }) => isReadAs(design, values.reads) && design.estimated.includes(quantity)).at(-1)
  const quantities = [
    ...new Set([
      ...closed.flatMap((loop) => readsOf(loop).flatMap((quantity) => estimatorOf(loop, quantity)?.design.reads ?? [quantity])),
    ]),
  ]
  // an observer knows every push of its machine, also those that no loop moves: they stand still
  const pushes = [...new Set(closed.map(({ values }) => values.pushes).filter((push) => commandedLoop(push) === undefined))]
  const pushOf = closed.map(({ values }) => pushes.indexOf(values.pushes))
  const fastest = Math.max(...closed.map(({ values }) => values.rate))
  const { respond, tick } = sampledMachine(withRates(system, quantities), pushes, quantities, 1 / fastest)
  const estimate = (loop: ClosedLoop, quantity: string): Estimate | undefined => {
    const found = estimatorOf(loop, quantity)
    if (found === undefined) return undefined
    return {
      row: found.design.estimated.indexOf(quantity),
      of: found.of,
      dt: found.design.system.dt!,
      reads: found.design.reads.map((signal) => quantities.indexOf(signal)),
      pushes: found.design.knowsPushes ? system.inputs.map((input) => pushes.indexOf(input)) : [],
    }
  }
  const loops = closed.map((loop) => ({
    dt: 1 / loop.values.rate,
    delay: loop.values.delay,
    law: responder(lawSystem(loop.model, loop.gains)),
    hasRate: findHeld(part, loop.values.holds)?.rate !== undefined,
    reads: readsOf(loop).map((quantity) => ({ quantity: quantities.indexOf(quantity), estimate: estimate(loop, quantity) })),
    commander: closed.findIndex(({ values }) => commandedLoop(values.pushes) === loop.name),
    target: closed.findIndex(({ name }) => name === commandedLoop(loop.values.pushes)),
  }))
  const at = (w: number): Blocks | undefined => {
    const g = respond(w)
    if (g === undefined) return undefined
    const out = loops.map(() => quantities.map(() => complex(0)))
    const r = loops.map(() => loops.map(() => complex(0)))
    const d = loops.map(({ dt, delay, target }) =>
      timesComplex(onUnitCircle(-w * delay, dt), heldFor(w, dt, target < 0 ? tick : loops[target]!.dt)),
    )
    for (const [i, { law, dt, hasRate, reads, commander }] of loops.entries()) {
      const c = law(onUnitCircle(w, dt))?.[0]
      if (c === undefined) return undefined
      // the law's inputs: error, rate, signals, reference
      for (const [k, { quantity, estimate: by }] of reads.entries()) {
        const own = k === 0 ? complex(-c[0]!.re, -c[0]!.im) : c[hasRate ? k : k + 1]!
        if (by === undefined) {
          out[i]![quantity] = plusComplex(out[i]![quantity]!, own)
          continue
        }
        const told = by.of(w)?.[by.row]
        if (told === undefined) return undefined
        // what is told seldom is held in between
        const held = by.dt > dt * (1 + 1e-9) ? heldFor(w, by.dt, dt) : complex(1)
        const through = told.map((one) => timesComplex(one, held))
        by.reads.forEach((from, j) => (out[i]![from] = plusComplex(out[i]![from]!, timesComplex(own, through[j]!))))
        by.pushes.forEach((push, j) => {
          if (push < 0) return
          pushOf.forEach((mine, loop) => {
            if (mine !== push) return
            r[i]![loop] = plusComplex(r[i]![loop]!, timesComplex(own, through[by.reads.length + j]!))
          })
        })
      }
      if (commander >= 0) r[i]![commander] = plusComplex(r[i]![commander]!, plusComplex(c[0]!, c.at(-1)!))
    }
    return { g, w: out, r, d }
  }
  return {
    loops: closed.map(({ name }) => name),
    rates: closed.map(({ values }) => values.rate),
    reads: loops.map(({ reads }) => reads.flatMap(({ quantity, estimate: by }) => by?.reads ?? [quantity])),
    ...{ pushes, quantities, pushOf, at },
  }
}

/** The machine with its hold and its points over frequency: gains change far more often. */
interface SampledMachine {
  readonly respond: MatrixFunction
  readonly tick: number
}

const mostKept = 20
const machines = new Map<string, SampledMachine>()

function sampledMachine(
  system: StateSpace,
  pushes: readonly string[],
  quantities: readonly string[],
  dt: number,
): SampledMachine {
  const key = `${partHash(system)} ${JSON.stringify([pushes, quantities, dt])}`
  return remembered(machines, mostKept, key, () => {
    const small = minimalRealization(between(system, pushes, quantities))
    const tick = small.dt ?? dt
    const respond = responder(lookedAtBefore(small.dt === null ? sampledWithHold(small, tick) : small))
    return { respond: remembering((w) => respond(onUnitCircle(w, tick))), tick }
  })
}

const responses = new WeakMap<StateSpace, MatrixFunction>()

/** Points of an estimator over frequency: neither it nor they change with the gains of loops. */
function estimatorResponse({ system }: LinearEstimator): MatrixFunction {
  const found = responses.get(system)
  if (found !== undefined) return found
  const respond = responder(system)
  const made = remembering((w) => respond(onUnitCircle(w, system.dt!)))
  responses.set(system, made)
  return made
}

/** What a value held for `dt` comes to for one who looks every `tick`: the mean over the looks, 1 where both are the same. */
function heldFor(w: number, dt: number, tick: number): Complex {
  const ratio = dt / tick
  if (Math.abs(ratio - 1) < 1e-9) return complex(1)
  const gone = (span: number) => {
    const { re, im } = onUnitCircle(-w, span)
    return complex(1 - re, -im)
  }
  const { re, im } = overComplex(gone(dt), gone(tick))
  return complex(re / ratio, im / ratio)
}

function openedAt({ loops, rates, reads, pushes, quantities, pushOf, at }: Responses, cut: Cut): OpenedLoops {
  const topOf = (is: (loop: number) => boolean) => Math.PI * Math.max(...rates.filter((_, loop) => is(loop)))
  const minus = (m: ComplexMatrix) => m.map((row) => row.map(({ re, im }) => complex(-re, -im)))
  /** a applied to each loop's own command, spread over the pushes: columns of loops from columns of pushes. */
  const moved = (g: ComplexMatrix, d: readonly Complex[]) =>
    g.map((row) => pushOf.map((push, loop) => (push < 0 ? complex(0) : timesComplex(row[push]!, d[loop]!))))
  const commands: MatrixFunction = (w) => {
    const blocks = at(w)
    if (blocks === undefined) return undefined
    const { g, w: law, r, d } = blocks
    const around = product(law, moved(g, d))
    return minus(around.map((row, i) => row.map((value, j) => plusComplex(value, timesComplex(r[i]![j]!, d[j]!)))))
  }
  /** What every loop asks for over what is truly there, all of them joined. */
  const joined = ({ w: law, r, d }: Blocks) =>
    solveComplex(
      r.map((row, i) =>
        row.map((value, j) => plusComplex(complex(i === j ? 1 : 0), timesComplex(complex(-1), timesComplex(value, d[j]!)))),
      ),
      law,
    )
  switch (cut) {
    case 'commands':
      return { cuts: loops, tops: rates.map((rate) => Math.PI * rate), gain: commands }
    case 'pushes':
      return {
        cuts: pushes,
        tops: pushes.map((_, push) => topOf((loop) => pushOf[loop] === push)),
        gain: (w) => {
          const blocks = at(w)
          const asked = blocks && joined(blocks)
          if (blocks === undefined || asked === undefined) return undefined
          const over = product(asked, blocks.g)
          return pushes.map((_, p) =>
            pushes.map((__, q) =>
              pushOf.reduce(
                (sum, push, loop) =>
                  push === p
                    ? plusComplex(sum, timesComplex(complex(-blocks.d[loop]!.re, -blocks.d[loop]!.im), over[loop]![q]!))
                    : sum,
                complex(0),
              ),
            ),
          )
        },
      }
    case 'readings':
      return {
        cuts: quantities,
        tops: quantities.map((_, quantity) => topOf((loop) => reads[loop]!.includes(quantity))),
        gain: (w) => {
          const blocks = at(w)
          const asked = blocks && joined(blocks)
          return blocks === undefined || asked === undefined ? undefined : minus(product(moved(blocks.g, blocks.d), asked))
        },
      }
    default:
      return cut satisfies never
  }
}

function product(a: readonly (readonly Complex[])[], b: readonly (readonly Complex[])[]): ComplexMatrix {
  return a.map((row) =>
    (b[0] ?? []).map((_, j) => {
      let [re, im] = [0, 0]
      row.forEach((x, k) => {
        const y = b[k]![j]!
        re += x.re * y.re - x.im * y.im
        im += x.re * y.im + x.im * y.re
      })
      return complex(re, im)
    }),
  )
}
