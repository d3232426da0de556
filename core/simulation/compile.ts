import {
  Graph,
  add,
  assign,
  atMost,
  call,
  copy,
  hoistInvariants,
  less,
  mul,
  repeatWhile,
  set,
  sub,
  sum,
  when,
} from '../expression'
import { abs, and } from '../expression'
import type { Assignment, Code, NumberNode, Procedure, Scalar, WasmModule } from '../expression'
import { assert, done, refused, refusedFor } from '../document'
import type { Document, Outcome, Part, Problem } from '../document'
import { everyNumber, findKind, valuesOf } from '../kinds'
import type { ValuesOf } from '../kinds'
import {
  asCued,
  besideOf,
  commandedLoop,
  followingJoints,
  inversePushes,
  linearMachine,
  outerFirst,
  pushOf,
  referenceLoops,
} from '../control'
import type { AskedOfLoop, Motion, OperatingPoint } from '../control'
import { designLayers, findHeld, findPush, isSudden, machineNumbers } from '../machine'
import type { AnyLayer, Read } from '../machine'
import { designLoop } from '../tuning'
import type { LoopDesign } from '../tuning'
import { layersOn, runHash } from './runHash'
import type { CompileChoices } from './runHash'
import { loopBlock, loopReading } from './loopBlock'
import type { LoopSignals } from './loopBlock'
import { fastestRate } from './fastest'
import { equationSlots } from './integrate'
import { due, integration, methodFor, sampleBySample } from './integration'
import type { IntegrationSlots, Method, Said } from './integration'
import { Layout, slotOf } from './layout'
import { overridden, trulyMade } from './overridden'
import { mostRecordBytes } from './record'
import type { Column } from './record'
import { sampleRates } from './rates'
import { plainPlant } from './plainPlant'
import type { TrialPlant } from './trialPlant'
import type { MeasuredSignals } from './sensed'
import { cues } from './cues'
import { cuedReference, cuedPushes, feedbackOf, withDerivatives } from './reference'
import { trial } from './trial'
import { printed } from './printed'

/** A state this large (in its SI unit) has left every machine's world. */
const divergenceLimit = 1e7
/** The joints of closed chains that inverse dynamics needs to know. */
const followingBlock = 'following'

export interface ParameterPlace {
  /** Path in the document; numbers of the simulated machine start with `true.`. */
  readonly path: string
  readonly slot: number
  readonly value: number
}

/** A document's machine, loops and trial for one set of layers, ready to run. */
export interface Program {
  readonly module: WasmModule
  readonly code: Code
  readonly columns: readonly Column[]
  readonly parameters: readonly ParameterPlace[]
  readonly stateNames: readonly string[]
  /** s between samples of the base tick */
  readonly tick: number
  readonly ticks: number
  /** How it goes from tick to tick. */
  readonly method: Method
  /** Every how many ticks a row is kept. */
  readonly recordEvery: number
  readonly slots: ProgramSlots
  /** Identifies what a run of this program gives: document, trial, seed, layers, engine. */
  readonly hash: string
  readonly loops: Readonly<Record<string, LoopDesign>>
}

export interface ProgramSlots {
  readonly states: number
  readonly row: number
  readonly rowPointer: number
  readonly tick: number
  readonly stopTick: number
  readonly diverged: number
  readonly steps: IntegrationSlots
}

/** The document must have passed `checkDocument`. Problems of tuning (requirements out of reach) are found here. */
export function compile(document: Document, trialName: string, choices: CompileChoices = {}): Outcome<Program> {
  const settings = valuesOf(trial, document.trials[trialName]!)
  const machine = document.machines[settings.machine]!
  const layers = choices.layers ?? layersOn(settings)
  const loops = outerFirst(document, settings.machine)
  const designs = loops.map((name) => ({ name, outcome: designLoop(document, name) }))
  const problems = designs.flatMap(({ outcome }): readonly Problem[] => (outcome.kind === 'refused' ? outcome.problems : []))
  if (problems.length > 0) return refused(problems)
  const found = Object.fromEntries(designs.map(({ name, outcome }) => [name, (outcome as { value: LoopDesign }).value]))
  const rates = ticksOf(document, trialName, found, layers)
  if (rates.kind === 'refused') return rates
  return new Compiler(
    document,
    trialName,
    settings,
    machine,
    layers,
    found,
    rates.value.base,
    choices.seed ?? settings.seed,
    runHash(document, trialName, choices),
  ).program()
}

/** Hz: the base tick of a trial, which all its sample rates divide. */
export function ticksOf(
  document: Document,
  trialName: string,
  designs: Readonly<Record<string, LoopDesign>>,
  layers: ReadonlySet<AnyLayer>,
): Outcome<{ base: number }> {
  const settings = valuesOf(trial, document.trials[trialName]!)
  return sampleRates(document, settings, designs, layers, () => fastestRate(document, trialName, layers), trialDuration(settings))
}

/** What the run itself goes by: the tick it is at and stops at, whether it diverged, and where the next row goes. */
function controlSlots(layout: Layout) {
  return { tick: layout.one(), stopTick: layout.one(), diverged: layout.one(), rowPointer: layout.one() }
}

type ControlSlots = ReturnType<typeof controlSlots>
type EquationSlots = ReturnType<typeof equationSlots>
type Steps = ReturnType<typeof integration>

interface RunParts {
  readonly control: ControlSlots
  readonly sampled: readonly { readonly name: string; readonly every: number }[]
  readonly row: number
  readonly equation: EquationSlots
  readonly steps: Steps
}

interface MadeParts extends Omit<RunParts, 'sampled'> {
  readonly plant: TrialPlant
  readonly run: Procedure
}

/** The state of one compilation: slots given out, blocks of values, columns of the record. */
class Compiler {
  private readonly graph = new Graph()
  private readonly layout = new Layout(this.graph)
  private readonly parameters: ParameterPlace[] = []
  private readonly constants = new Set<number>()
  private readonly blocks: { name: string; values: Assignment[] }[] = []
  private readonly columns: (Column & { readonly value: Scalar })[] = []
  private readonly initial: Assignment[] = []
  /** What other values at the start are worked out from. */
  private readonly startsFirst: Assignment[] = []
  private readonly rests = new Map<string, Scalar>()
  private readonly known: Read

  constructor(
    private readonly document: Document,
    private readonly trialName: string,
    private readonly settings: ValuesOf<typeof trial>,
    private readonly machine: Part,
    private readonly layers: ReadonlySet<AnyLayer>,
    private readonly designs: Readonly<Record<string, LoopDesign>>,
    private readonly baseRate: number,
    private readonly seed: number,
    private readonly hash: string,
  ) {
    this.known = this.machineReader('')
  }

  program(): Outcome<Program> {
    const { layout } = this
    const truth = this.machineReader('true.')
    const control = controlSlots(layout)
    const seed = this.parameter('seed', this.seed)
    const made = this.plant(truth)
    if (made.kind === 'refused') return made
    const plant = made.value
    const equation = equationSlots(layout, plant.stateNames.length)
    const asked = layout.many(plant.askedCount)
    const time = mul(control.tick, 1 / this.baseRate)

    const rates = this.derivative(plant, equation, asked)
    const observed = plant.observe(equation.x, asked, time)
    this.block('observe', [...observed.values])
    this.columns.push(...observed.columns)
    const measured = plant.sensors({ seed, tick: control.tick, baseRate: this.baseRate, asked })
    for (const block of measured.blocks) this.block(block.name, block.values)
    this.initial.push(...measured.initial)
    const loops = this.loops(observed.truth, measured.signals, time, control.tick, plant.holding)
    this.allocation(plant, loops, asked, time)
    this.startPlant(plant, equation, asked)
    for (const one of loops) this.initial.push(...one.initial)
    this.columns.push(...measured.columns)
    this.publishLoops(loops)
    const row = this.publish()

    const steps = this.steps(plant, equation, rates, control, time)
    if (steps.slopes.length > 0) this.block('jacobian', [...steps.slopes])
    const sampled = [...measured.blocks, ...this.followed(), ...loops]
    const run = this.run({ control, sampled, row, equation, steps })
    return this.made({ plant, equation, control, row, steps, run })
  }

  private plant(truth: Read): Outcome<TrialPlant> {
    const { layers, layout, known, machine, settings } = this
    return plainPlant(this.document, machine, {
      ...{ name: settings.machine, layers, layout, truth, known },
      trueMachine: trulyMade(machine, settings.overrides),
      parameter: (path, value) => this.parameter(path, value),
    })
  }

  private derivative(plant: TrialPlant, equation: EquationSlots, asked: readonly NumberNode[]): readonly Scalar[] {
    const rates = plant.rates(equation.stage, asked, equation.stageTime)
    this.block(
      'derivative',
      rates.map((value, i) => ({ slot: slotOf(equation.slope[i]!), value })),
    )
    return rates
  }

  /** What loops and cues ask of pushes, and of the drives by it. */
  private allocation(plant: TrialPlant, loops: readonly LoopSignals[], asked: readonly NumberNode[], time: Scalar): void {
    const pushes = new Map<string, Scalar>()
    for (const one of loops)
      if (commandedLoop(one.pushes) === undefined) pushes.set(one.pushes, add(pushes.get(one.pushes) ?? 0, one.applied))
    const cued = cuedPushes(this.document, this.trialName, (path, value) => this.parameter(path, value))
    for (const [push, ask] of cued) pushes.set(push, add(pushes.get(push) ?? plant.holding.get(push) ?? 0, ask(time)))
    for (const push of cued.keys()) {
      const { label, unit } = findPush(this.machine, push)!
      this.column({ name: asCued(push), label: `${label} asked`, unit, role: 'command' }, pushes.get(push)!)
    }
    this.block(
      'allocation',
      plant.ask(pushes).map((value, i) => ({ slot: slotOf(asked[i]!), value })),
    )
  }

  private startPlant(plant: TrialPlant, equation: EquationSlots, asked: readonly NumberNode[]): void {
    plant.startStates.forEach((value, i) => this.initial.push({ slot: slotOf(equation.x[i]!), value }))
    plant.startAsked.forEach((value, i) => this.initial.push({ slot: slotOf(asked[i]!), value }))
  }

  /** The block that writes a row of the record; gives where the row lies. */
  private publish(): number {
    const row = this.layout.reserve(this.columns.length)
    this.block(
      'publish',
      this.columns.map(({ value }, i) => ({ slot: row + i, value })),
    )
    return row
  }

  private steps(plant: TrialPlant, equation: EquationSlots, rates: readonly Scalar[], control: ControlSlots, time: Scalar) {
    const tickLength = 1 / this.baseRate
    const between = { tick: control.tick, diverged: control.diverged, tickLength, time }
    if (plant.sampleTime !== undefined) return sampleBySample(equation, plant.sampleTime, between)
    const fastest = () => fastestRate(this.document, this.trialName, this.layers)
    const method = methodFor(this.settings.method as Said, fastest, tickLength, isSudden(this.machine))
    const isConstant = this.settings.method === 'chosen' ? (slot: number) => this.constants.has(slot) : undefined
    return integration(this.layout, equation, method, this.settings.step, rates, between, isConstant)
  }

  /** The joints that inverse dynamics follows, where there are any. */
  private followed(): readonly { readonly name: string; readonly every: number }[] {
    return this.blocks.filter(({ name }) => name === followingBlock).map(({ name }) => ({ name, every: 1 }))
  }

  /** Every how many ticks a row is kept. */
  private get recordEvery(): number {
    return this.layers.has('sampling') ? 1 : Math.max(1, Math.round(this.baseRate / 200))
  }

  /** From tick to tick: what is due is sampled, a row kept, and the plant taken on, until it stops or diverges. */
  private run({ control, sampled, row, equation, steps }: RunParts): Procedure {
    const samples = sampled.map(({ name, every }) => when(due(control.tick, every), [call(name)]))
    const size = sum(equation.x.map((x) => abs(x)))
    return {
      name: 'run',
      body: [
        repeatWhile(and(less(control.tick, control.stopTick), less(control.diverged, 1)), [
          call('observe'),
          ...samples,
          call('allocation'),
          when(due(control.tick, this.recordEvery), [
            call('publish'),
            copy(row, this.columns.length, control.rowPointer),
            set(slotOf(control.rowPointer), add(control.rowPointer, this.columns.length)),
          ]),
          when(
            atMost(size, divergenceLimit),
            [...steps.toNext, set(slotOf(control.tick), add(control.tick, 1))],
            [set(slotOf(control.diverged), 1)],
          ),
        ]),
      ],
    }
  }

  /** All of it as a program, or that its record would be too long. */
  private made({ plant, equation, control, row, steps, run }: MadeParts): Outcome<Program> {
    const { layout, recordEvery } = this
    const prepared = this.hoisted()
    const prepare: Procedure = {
      name: 'prepare',
      body: [...steps.first, assign(prepared.first), assign(this.startsFirst), assign(this.started())],
    }
    const duration = trialDuration(this.settings)
    const ticks = Math.round(duration * this.baseRate) + 1
    const bytes = 8 * (Math.floor((ticks - 1) / recordEvery) + 1) * (this.columns.length + 1)
    if (bytes > mostRecordBytes) return tooLong(`trials.${this.trialName}`, bytes, duration)
    const code: Code = { slots: layout.slots, procedures: [...prepared.procedures, ...steps.procedures, run, prepare] }
    return done({
      module: printed(code),
      code,
      columns: this.columns.map(({ value: _value, ...column }) => column),
      parameters: this.parameters,
      stateNames: plant.stateNames,
      tick: 1 / this.baseRate,
      ticks,
      method: steps.method,
      recordEvery,
      slots: {
        states: slotOf(equation.x[0]!),
        row,
        rowPointer: slotOf(control.rowPointer),
        tick: slotOf(control.tick),
        stopTick: slotOf(control.stopTick),
        diverged: slotOf(control.diverged),
        steps: steps.slots,
      },
      hash: this.hash,
      loops: this.designs,
    })
  }

  /** What a loop holds where the machine rests. */
  private heldAtRest(loop: string): Scalar {
    const known = this.rests.get(loop) ?? this.parameter(`loops.${loop}.rest.held`, this.designs[loop]!.nominalHeld)
    this.rests.set(loop, known)
    return known
  }

  /** What memory starts with: numbers are parameters, as another number is no other program. */
  private started(): Assignment[] {
    return this.initial.map(({ slot, value }) => ({
      slot,
      value: typeof value === 'number' ? this.parameter(`start.${slot}`, value) : value,
    }))
  }

  private parameter(path: string, value: number): NumberNode {
    const node = this.layout.one()
    this.parameters.push({ path, slot: slotOf(node), value })
    this.constants.add(slotOf(node))
    return node
  }

  /** Reads a machine's numbers from memory: as the model knows them, or as they truly are in the trial. */
  private machineReader(prefix: '' | 'true.'): (path: string) => Scalar {
    const overrides = prefix === '' ? {} : this.settings.overrides
    const nodes = new Map(
      machineNumbers(this.machine).map(({ path, value }) => {
        const changed = overridden(value, path, overrides)
        return [path, this.parameter(`${prefix}machines.${this.settings.machine}.${path}`, changed)]
      }),
    )
    return (path) => nodes.get(path)!
  }

  private block(name: string, values: Assignment[]): void {
    this.blocks.push({ name, values })
  }

  private column(column: Column, value: Scalar): void {
    this.columns.push({ ...column, value })
  }

  private loops(
    truth: ReadonlyMap<string, Scalar>,
    measured: MeasuredSignals,
    time: Scalar,
    tick: NumberNode,
    holding: ReadonlyMap<string, Scalar>,
  ): LoopSignals[] {
    const sampling = this.layers.has('sampling')
    const commands = new Map<string, Scalar>()
    const asked = new Map(Object.entries(this.designs).map(([name, design]) => [name, this.asked(name, design, time, tick)]))
    const inverse = this.inverse(asked)
    return Object.entries(this.designs).map(([name, design]) => {
      const { pushes, holds } = design.values
      const inner = commandedLoop(pushes)
      const rest = this.heldAtRest(name)
      const motion = asked.get(name)!
      const command = commands.get(name)
      const estimates = this.layers.has('estimator')
      const vectors = (quantity: string) => findHeld(this.machine, quantity)?.vector
      const read = (quantity: string) => loopReading({ design, truth, measured, estimates, vectors }, quantity)
      const beside = besideOf(this.document, name)
      const absolute: Motion = command === undefined ? [add(rest, motion[0]), motion[1], motion[2]] : [command, 0, 0]
      const block = loopBlock({
        ...{ name, document: this.document, design, layout: this.layout, machine: this.machine, read },
        reference: absolute[0],
        rest,
        beside: beside === undefined ? undefined : (commands.get(beside) ?? asked.get(beside)![0]),
        forward: {
          asked: command === undefined ? motion : [sub(command, rest), 0, 0],
          absolute,
          isPosition: findHeld(this.machine, holds)!.rate !== undefined,
          holding: inner === undefined ? (holding.get(pushes) ?? 0) : 0,
          inverse: (moving) => inverse(moving).get(name)!,
          away: (signal) => sub(read(signal), this.operatingPoint().held[signal] ?? 0),
          dt: sampling ? design.model.dt : 1 / this.baseRate,
        },
        on: feedbackOf(this.document, this.trialName, name, (path, number) => this.parameter(path, number))?.(time),
        push: pushOf(this.document, this.document.loops[name]!)!,
        base: inner === undefined ? 0 : this.parameter(`loops.${name}.rest.command`, design.nominalPush),
        dt: sampling ? design.model.dt : 1 / this.baseRate,
        delay: sampling ? design.values.delay : 0,
        every: sampling ? Math.round(this.baseRate * design.model.dt) : 1,
        parameter: (path, value) => this.parameter(path, value),
      })
      this.block(block.name, block.values)
      if (inner !== undefined) commands.set(inner, block.applied)
      return block
    })
  }

  /** What cues ask of a loop; with derivatives where a feedforward may want them. */
  private asked(name: string, { values }: LoopDesign, time: Scalar, tick: NumberNode): Motion {
    const value = cuedReference(this.document, this.trialName, name, (path, number) => this.parameter(path, number))(time)
    const wanted = Object.values(this.designs).some(({ forward }) => forward.block.needsEquations)
    if (!wanted && Object.keys(values.feedforwards).length === 0) return [value, 0, 0]
    return withDerivatives(value, slotOf(tick), 1 / this.baseRate)
  }

  /** The pushes by the machine's own equations as the model knows them, of all loops with references of their own. */
  private inverse(asked: ReadonlyMap<string, Motion>): (moving: boolean) => ReadonlyMap<string, Scalar> {
    const made = new Map<boolean, ReadonlyMap<string, Scalar>>()
    const loops = referenceLoops(this.document, this.settings.machine)
    const motionsOf = (moving: boolean) =>
      loops.map((name): AskedOfLoop => {
        const { values } = this.designs[name]!
        const [value, rate, acceleration] = asked.get(name)!
        const own: Motion = [add(this.heldAtRest(name), value), moving ? rate : 0, moving ? acceleration : 0]
        return { push: values.pushes, holds: values.holds, motion: own }
      })
    let dependents: readonly Scalar[] | undefined
    const make = (moving: boolean) => {
      dependents ??= this.followingJoints(motionsOf(false))
      const rest = this.operatingPoint()
      const pushes = inversePushes(this.machine, this.known, rest, motionsOf(moving), 'withFriction', dependents)
      return new Map(loops.map((name, i) => [name, pushes[i]!]))
    }
    return (moving) => {
      const known = made.get(moving) ?? make(moving)
      made.set(moving, known)
      return known
    }
  }

  /** Joints of closed chains as the references move them, kept from tick to tick; nothing without chains. */
  private followingJoints(asked: readonly AskedOfLoop[]): readonly Scalar[] | undefined {
    const found = followingJoints(this.machine, this.operatingPoint(), asked)
    if (found === undefined) return undefined
    const nodes = this.layout.many(found.start.length)
    const next = found.next(this.known, asked, nodes)
    this.block(
      followingBlock,
      nodes.map((node, i) => ({ slot: slotOf(node), value: next[i]! })),
    )
    nodes.forEach((node, i) => this.startsFirst.push({ slot: slotOf(node), value: found.start[i]! }))
    return nodes
  }

  private operatingPoint(): OperatingPoint {
    const linear = linearMachine(this.machine, designLayers.all)
    assert(linear.kind === 'done', 'A machine whose loops were designed has an operating point.')
    return linear.value.operatingPoint
  }

  private publishLoops(loops: readonly LoopSignals[]): void {
    for (const one of loops) for (const { value, ...column } of one.columns) this.column(column, value)
  }

  /** All blocks as procedures, with what stays constant during a run computed once beforehand. */
  private hoisted(): { first: Assignment[]; procedures: Procedure[] } {
    const all = this.blocks.flatMap(({ values }) => values.map(({ value }) => value))
    const starts = this.initial.map(({ value }) => value)
    const { first, expressions } = hoistInvariants(
      this.graph,
      [...all, ...starts],
      (slot) => this.constants.has(slot),
      () => this.layout.reserve(1),
    )
    let at = 0
    const procedures = this.blocks.map(({ name, values }) => ({
      name,
      body: [assign(values.map(({ slot }) => ({ slot, value: expressions[at++]! })))],
    }))
    this.initial.splice(0, this.initial.length, ...this.initial.map(({ slot }) => ({ slot, value: expressions[at++]! })))
    return { first, procedures }
  }
}

function tooLong(where: string, bytes: number, duration: number): Outcome<never> {
  const what = `Its record of ${Math.round(duration)} s would have ${Math.round(bytes / 1e6)} MB; at most ${mostRecordBytes / 1e6} MB are kept.`
  const shorter = Math.floor((duration * mostRecordBytes) / bytes)
  return refusedFor(where, what, `End it before ${shorter} s, or let its loops and sensors sample more slowly.`)
}

/** s */
export function lastCueEnd(settings: Pick<ValuesOf<typeof trial>, 'cues'>): number {
  const ends = Object.values(settings.cues).map((cue) => {
    const numbers = new Map(everyNumber(cues, cue).map(({ path, value }) => [path, value]))
    return findKind(cues, cue)!.ends((path) => numbers.get(path)!, cue)
  })
  return Math.max(0, ...ends)
}

/** s: until `after` from the end of the last cue. */
export function trialDuration(settings: Pick<ValuesOf<typeof trial>, 'cues' | 'after'>): number {
  return lastCueEnd(settings) + settings.after
}
