import { mul, sum } from '../expression'
import type { Scalar } from '../expression'
import { partsIn } from '../document'
import type { Document, LoopPart, Part, Problem } from '../document'
import { findKind, valuesOf } from '../kinds'
import { linearMachine } from './plant'
import { designLayers } from '../machine'
import type { StateSpace } from '../linear'
import { feedforwards } from './feedforwards'
import type { Feedforward, ForwardInputs } from './feedforwards'
import { inverseProblem } from './inverse'
import { commandedLoop } from './loopChain'

/** The feedforwards of a loop that are switched on, as one sampled block. */
export interface LoopForward {
  readonly memory: number
  /** Whether it needs the machine's own equations. */
  readonly needsEquations: boolean
  /** `read` gives numbers by path: `weight.scale`. The command is the sum of all. */
  readonly step: (
    inputs: ForwardInputs,
    memory: readonly Scalar[],
    read: (path: string) => Scalar,
  ) => { readonly command: Scalar; readonly memory: readonly Scalar[] }
}

interface Named {
  readonly name: string
  readonly part: Part
  readonly kind: Feedforward
}

function partsOf(loop: LoopPart): Named[] {
  return Object.entries(partsIn(loop.feedforwards)).flatMap(([name, part]) => {
    const kind = findKind(feedforwards, part)
    return kind === undefined ? [] : [{ name, part, kind }]
  })
}

/** `plant` gives what the loop sees, lags left out. */
export function forwardOf(loop: LoopPart, plant: () => StateSpace): LoopForward {
  const on = partsOf(loop).filter(({ part }) => part.on === true)
  const counts = on.map(({ kind }) => kind.remembers?.(plant) ?? 0)
  return {
    memory: counts.reduce((all, count) => all + count, 0),
    needsEquations: on.some(({ kind }) => kind.needs === 'equations'),
    step: (inputs, memory, read) => {
      let at = 0
      const steps = on.map(({ name, part, kind }, i) => {
        const mine = memory.slice(at, (at += counts[i]!))
        const { command, memory: next } = kind.command(inputs, mine, (slot) => read(`${name}.${slot}`), part, plant)
        return { command: mul(read(`${name}.scale`), command), next }
      })
      return { command: sum(steps.map(({ command }) => command)), memory: steps.flatMap(({ next }) => next) }
    },
  }
}

/** The numbers of a loop's feedforwards as the document has them. */
export function forwardNumbers(loop: LoopPart): (path: string) => number {
  return (path) => {
    const [name, slot] = path.split('.') as [string, string]
    const part = partsIn(loop.feedforwards)[name]!
    return valuesOf(findKind(feedforwards, part)!, part)[slot] as number
  }
}

/** The loops of a machine that follow references of their own, outermost on their push: what its equations are turned round for. */
export function referenceLoops(document: Document, machine: string): readonly string[] {
  return Object.keys(document.loops).filter((name) => {
    const { machine: own, reference, pushes } = document.loops[name]!
    return own === machine && reference !== 'command' && commandedLoop(pushes) === undefined
  })
}

/** What feedforwards of a document's loops cannot do. Meant after the names of the loops were checked. */
export function forwardProblems(document: Document, name: string): Problem[] {
  const loop = document.loops[name]!
  const machine = document.machines[loop.machine]!
  const named = partsOf(loop).map((one) => ({ ...one, where: `loops.${name}.feedforwards.${one.name}` }))
  const on = named.filter(({ part }) => part.on === true)
  const problems: Problem[] = []
  const carrying = on.filter(({ kind }) => kind.carriesRest === true)
  if (carrying.length > 1) {
    const [first, second] = carrying as [(typeof on)[number], (typeof on)[number]]
    const what = `${first.name} and ${second.name} both carry what holds it at rest.`
    problems.push({ where: second.where, what, remedy: 'Switch one of them off.' })
  }
  const commands = commandedLoop(loop.pushes) !== undefined
  for (const { where, kind } of on) {
    if (loop.reference === 'command' && kind.needs !== 'reference') {
      const what = 'Its reference is the command of another loop, whose rate nobody knows.'
      problems.push({ where, what, remedy: 'Give this feedforward to the loop that commands it.' })
    }
    if (kind.needs !== 'equations') continue
    if (commands) {
      const what = 'It commands another loop, not the machine: what a motion takes is no command of that.'
      problems.push({ where, what, remedy: 'Give this feedforward to the loop that pushes the machine.' })
      continue
    }
    const linear = linearMachine(machine, designLayers.all)
    if (linear.kind === 'refused') continue
    const asked = referenceLoops(document, loop.machine).map((one) => {
      const { pushes, holds } = document.loops[one]!
      return { push: pushes, holds: holds }
    })
    const found = inverseProblem(machine, linear.value.operatingPoint, asked)
    if (found !== undefined) problems.push({ where, ...found })
  }
  return problems
}
