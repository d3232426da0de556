import {
  Graph,
  add,
  assign,
  atMost,
  call,
  copy,
  hoistInvariants,
  less,
  min,
  mul,
  repeatWhile,
  set,
  slotsRead,
  sub,
  sum,
  when,
} from '../expression'
import { abs, and } from '../expression'
import type { Assignment, Code, NumberNode, Procedure, Scalar, Statement, WasmModule } from '../expression'
import { assert, done, nameRemedy, partsIn, refused, refusedFor } from '../document'
import type { Document, Outcome, Part, Problem } from '../document'
import { valuesOf } from '../kinds'
import type { ValuesOf } from '../kinds'
import {
  asCued,
  besideOf,
  commandedLoop,
  cuedPush,
  followingJoints,
  inversePushes,
  linearMachine,
  outerFirst,
  pushOf,
  referenceLoops,
} from '../control'
import type { AskedOfLoop, Motion, OperatingPoint } from '../control'
import { designLayers, effectInputs, findHeld, findPush, isBodiless, isSudden, machineNumbers, shortName } from '../machine'
import type { AnyLayer, MeshTree, Read } from '../machine'
import { designLoop } from '../tuning'
import type { LoopDesign } from '../tuning'
import { clearanceTo, inScene, meshesAround, sceneOf } from '../scene'
import type { Clearance } from '../scene'
import { layersOn, runHash } from './runHash'
import type { CompileChoices } from './runHash'
import { loopBlock, loopReading } from './loopBlock'
import type { LoopSignals } from './loopBlock'
import { chanceAround, chanceBlock } from './chance'
import { driveBlock, drivenNumbers } from './driven'
import type { Driven } from './driven'
import { fastestRate } from './fastest'
import { equationSlots } from './integrate'
import { due, integration, methodFor, sampleBySample } from './integration'
import type { Bends, IntegrationSlots, Method, Said } from './integration'
import { Layout, slotOf } from './layout'
import { trulyMade } from './overridden'
import { mostRecordBytes, recordBytes } from './record'
import type { Column } from './record'
import { sampleRates } from './rates'
import { startsOf } from './starts'
import { Looks } from './looks'
import type { AsPredicted } from './partlyLinear'
import { plainPlant } from './plainPlant'
import type { TrialPlant } from './trialPlant'
import type { MeasuredSignals } from './sensed'
import { asTyped, cuedReference, cuedPushes, feedbackOf, withDerivatives } from './reference'
import { never, playedCues } from './cues'
import { Happenings } from './happenings'
import { Handled, handsBlock, touchesOf } from './handled'
import type { Channel, Touch } from './handled'
import { heldBetween } from './afterwards'
import type { Afterwards } from './afterwards'
import { clearanceOf, looksAtClearance } from './signals'
import { trial } from './trial'
import { printed } from './printed'

/** A state this large (in its SI unit) has left every machine's world. */
export const divergenceLimit = 1e7
/** s: so often the distance to what stands around is looked at. */
const clearanceSeconds = 0.05
/** What is seen of the machine when a tick begins. */
const observedBlock = 'observe'
/** What is looked at when a tick begins. */
const judgedBlock = 'judged'
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
  readonly afterwards?: Afterwards
  readonly parameters: readonly ParameterPlace[]
  readonly stateNames: readonly string[]
  /** When the cues come, s, by what memory holds after a run. */
  readonly cues: readonly { readonly name: string; readonly begins: Scalar; readonly over: Scalar }[]
  /** What a person may move while it runs, and what the trial keeps of it, in time. */
  readonly hands: readonly Channel[]
  readonly touches: readonly Touch[]
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
  const around = meshesAround(document, trialName, choices.findMesh)
  if (around.kind === 'refused') return around
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
    around.value,
    choices.asPredicted,
    choices.only,
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
  readonly clearance?: Afterwards
  readonly plant: TrialPlant
  readonly run: Procedure
}

/** The state of one compilation: slots given out, blocks of values, columns of the record. */
class Compiler {
  private readonly graph = new Graph()
  private readonly layout = new Layout(this.graph)
  private readonly parameters: ParameterPlace[] = []
  private readonly constants = new Set<number>()
  private readonly blocks: { name: string; values: Assignment[]; before?: readonly Statement[] }[] = []
  private readonly columns: (Column & { readonly value: Scalar })[] = []
  private readonly initial: Assignment[] = []
  /** What has not come and not been touched, before anything is worked out: memory is as the run before left it. */
  private readonly untouched: Assignment[] = []
  /** What other values at the start are worked out from. */
  private readonly startsFirst: Assignment[] = []
  private readonly rests = new Map<string, Scalar>()
  private readonly known: Read
  private bends: Bends | undefined
  private steppedBy: ReturnType<typeof methodFor> | undefined
  private driven: Driven | undefined
  private readonly control: ControlSlots
  private readonly time: Scalar
  private readonly happenings: Happenings
  private readonly handled: Handled
  private readonly looks: Looks

  constructor(
    private readonly document: Document,
    private readonly trialName: string,
    private readonly settings: ValuesOf<typeof trial>,
    private readonly machine: Part,
    private readonly layers: ReadonlySet<AnyLayer>,
    private readonly designs: Readonly<Record<string, LoopDesign>>,
    private readonly baseRate: number,
    seed: number,
    private readonly hash: string,
    private readonly around: ReadonlyMap<string, MeshTree>,
    private readonly asPredicted: AsPredicted | undefined,
    private readonly only: ReadonlySet<string> | undefined,
  ) {
    this.looks = new Looks(this.layout, around)
    this.handled = new Handled(document.trials[trialName]!)
    this.known = this.machineReader(machine, '')
    this.control = controlSlots(this.layout)
    this.time = mul(this.control.tick, 1 / baseRate)
    this.handled.lay(this.layout, (path, value) => this.parameter(path, value), 1 / baseRate)
    if (this.handled.values.length > 0) this.block(handsBlock, [...this.handled.values])
    this.untouched.push(...this.handled.initial)
    this.happenings = new Happenings({
      ...{ document, trial: trialName, layout: this.layout, time: this.time, tick: this.control.tick },
      parameter: (path, value) => this.parameter(path, value),
      seed: this.parameter('seed', seed),
      pressed: (hand) => this.handled.pressed(hand),
    })
  }

  program(): Outcome<Program> {
    const { layout, control, time, happenings } = this
    const made = this.plant()
    if (made.kind === 'refused') return made
    const plant = made.value
    const equation = equationSlots(layout, plant.stateNames.length)
    const asked = layout.many(plant.askedCount)

    const rates = this.derivative(plant, equation, asked)
    const observed = plant.observe(equation.x, asked, time)
    this.block(observedBlock, [...observed.values], observed.before)
    this.columns.push(...observed.columns)
    const measured = plant.sensors({
      ...{ seed: happenings.seed, tick: control.tick, baseRate: this.baseRate, asked },
      alter: (...given) => happenings.altered(...given),
    })
    for (const block of measured.blocks) this.block(block.name, block.values)
    this.initial.push(...measured.initial)
    const loops = this.loops(observed.truth, measured.signals, time, control.tick, plant)
    this.allocation(plant, loops, asked, time)
    this.startPlant(plant, equation, asked)
    for (const one of loops) this.initial.push(...one.initial)
    this.columns.push(...measured.columns)
    this.publishLoops(loops)
    const clearance = this.only === undefined ? this.clearance() : undefined
    const lacks = this.judge()
    if (lacks.length > 0) return refused(lacks)
    const row = this.publish()

    const steps = this.steps(plant, equation, rates)
    if (steps.slopes.length > 0) this.block('jacobian', [...steps.slopes])
    const sampled = [...measured.blocks, ...this.followed(), ...loops]
    const run = this.run({ control, sampled, row, equation, steps })
    return this.made({ plant, equation, control, row, steps, run, ...(clearance === undefined ? {} : { clearance }) })
  }

  private plant(): Outcome<TrialPlant> {
    const { layers, layout, known, machine, settings, happenings } = this
    const atRest = trulyMade(machine, settings.overrides)
    const truly = inScene(atRest, sceneOf(this.document, this.trialName))
    const truth = this.truth(truly)
    const chance = chanceAround(happenings.machine(truly), {
      ...{ layers, layout, seed: happenings.seed, tick: this.control.tick, seconds: 1 / this.baseRate },
      known: truth(this.time),
    })
    if (chance.values.length > 0) this.block(chanceBlock, [...chance.values])
    this.startsFirst.push(...chance.first)
    return plainPlant(this.document, machine, {
      ...{ name: settings.machine, layers, layout, known },
      truth: (time) => chance.read(truth(time)),
      trueMachine: chance.machine,
      atRest,
      ...(this.asPredicted === undefined ? {} : { asPredicted: this.asPredicted }),
      parameter: (path, value) => this.parameter(path, value),
      looks: this.looks,
    })
  }

  /** The distance to what stands around, which is worked out from the rows of a run. */
  private clearance(): Afterwards | undefined {
    if (isBodiless(this.machine) || !looksAtClearance(this.document, this.trialName)) return undefined
    const foundIn = (document: Document) =>
      clearanceTo(document.machines[this.settings.machine]!, sceneOf(document, this.trialName), this.around)
    const found = foundIn(this.document)
    if (found === undefined) return undefined
    const name = `${this.settings.machine}.`
    const every = Math.max(1, Math.round(clearanceSeconds * (this.baseRate / this.recordEvery)))
    this.column({ name: clearanceOf(this.settings.machine), label: 'clearance', unit: 'm', role: 'actual', every }, 0)
    const places = found.positions.map((position) => this.columns.findIndex((column) => column.name === name + position))
    const column = this.columns.length - 1
    const made = ({ at }: Clearance): Afterwards => ({
      ...{ column, values: heldBetween(every, places, at) },
      of: (document) => made(foundIn(document)!),
    })
    return made(found)
  }

  /** The numbers of the simulated machine at a time, with what cues do to them: kept in memory, or worked out where they are read. */
  private truth(truly: Part): (time: Scalar) => Read {
    const plain = this.machineReader(truly, 'true.')
    const drives = this.happenings.drives(truly, plain)
    if (drives === undefined) return () => plain
    const last = this.layout.one()
    // implicit steps need their derivative by time
    if (this.method === 'implicit' || isBodiless(this.machine)) {
      this.bends = { after: drives.bendAfter, last, arrive: () => [] }
      return (time) => {
        const known = new Map<string, Scalar>()
        return (path) => {
          const value = drives.numbers.get(path)
          if (value === undefined) return plain(path)
          if (!known.has(path)) known.set(path, value(time))
          return known.get(path)!
        }
      }
    }
    const driven = drivenNumbers(this.layout, drives, plain, last)
    this.driven = driven
    this.bends = { after: () => driven.next, last, arrive: driven.arrive }
    this.block(driveBlock, [...driven.values])
    this.initial.push(...driven.initial)
    return () => driven.read
  }

  /** What steps the trial takes. */
  private get method(): ReturnType<typeof methodFor> {
    this.steppedBy ??= methodFor(
      this.settings.method as Said,
      () => Math.max(this.happenings.swings, fastestRate(this.document, this.trialName, this.layers)),
      1 / this.baseRate,
      isSudden(this.machine),
    )
    return this.steppedBy
  }

  /** What is looked at when a tick begins: what cues wait for, and what faults read. */
  private judge(): readonly Problem[] {
    const { happenings } = this
    const { values, problems } = happenings.judged(
      new Map(this.columns.map(({ name, value }) => [name, value])),
      this.driven?.stale,
    )
    if (values.length > 0) this.block(judgedBlock, values)
    this.untouched.push(...happenings.initial)
    return problems
  }

  private derivative(plant: TrialPlant, equation: EquationSlots, asked: readonly NumberNode[]): readonly Scalar[] {
    const { bends, driven } = this
    // what begins at the end of a step has not begun in it
    const now = bends === undefined ? equation.stageTime : min(equation.stageTime, bends.last)
    const { rates, before } = plant.rates(equation.stage, asked, driven === undefined ? now : equation.stageTime)
    this.block(
      'derivative',
      rates.map((value, i) => ({ slot: slotOf(equation.slope[i]!), value })),
      [...(driven?.along(equation.stageTime) ?? []), ...before],
    )
    return rates
  }

  /** What loops and cues ask of pushes, and of the drives by it. */
  private allocation(plant: TrialPlant, loops: readonly LoopSignals[], asked: readonly NumberNode[], time: Scalar): void {
    const pushes = new Map<string, Scalar>()
    for (const one of loops)
      if (commandedLoop(one.pushes) === undefined) pushes.set(one.pushes, add(pushes.get(one.pushes) ?? 0, one.applied))
    const cued = cuedPushes(this.document, this.happenings.played, (path, value) => this.parameter(path, value))
    const handled = this.handled.asking.flatMap((asked) => cuedPush(asked) ?? [])
    const moved = new Set([...cued.keys(), ...handled])
    for (const push of moved) {
      const asked = add(cued.get(push)?.(time) ?? 0, this.handled.asked(asCued(push))?.value ?? 0)
      pushes.set(push, add(pushes.get(push) ?? plant.holding.get(push) ?? 0, asked))
    }
    for (const push of moved) {
      const { label, unit } = findPush(this.machine, push)!
      this.column({ name: asCued(push), label: `${label} asked`, unit, role: 'command' }, pushes.get(push)!)
    }
    const values: Assignment[] = []
    plant
      .ask(pushes)
      .forEach((value, i) => values.push({ slot: slotOf(asked[i]!), value: this.askedOf(plant, i, value, values) }))
    this.block('allocation', values)
  }

  /** What a drive is asked as it gets it, with a column that shows it where a fault sits there. */
  private askedOf(plant: TrialPlant, i: number, value: Scalar, values: Assignment[]): Scalar {
    const drive = plant.inputs[i]
    const name = `${this.settings.machine}.${drive}.asked`
    if (drive === undefined || !this.happenings.isAltered(name)) return value
    const altered = this.altered(name, value, 1 / this.baseRate, plant.startAsked[i]!, values, this.initial)
    if (!this.columns.some((column) => column.name === name)) {
      const { unit } = effectInputs(this.machine).find((one) => one.name === drive) ?? { unit: '' }
      const node = this.layout.one()
      values.push({ slot: slotOf(node), value: altered })
      this.initial.push({ slot: slotOf(node), value: plant.startAsked[i]! })
      this.column({ name, label: `${shortName(drive, this.machine)} asked`, unit, role: 'command' }, node)
    }
    return altered
  }

  /** A signal as those get it who read it; what its faults remember goes with the values of its block. */
  private altered(
    ...[signal, value, dt, start, values, initial]: [string, Scalar, number, Scalar, Assignment[], Assignment[]]
  ): Scalar {
    return this.happenings.altered(signal, value, dt, start, (node, next, first) => {
      values.push({ slot: slotOf(node), value: next })
      initial.push({ slot: slotOf(node), value: first })
    })
  }

  private startPlant(plant: TrialPlant, equation: EquationSlots, asked: readonly NumberNode[]): void {
    const starts = startsOf(this.document.trials[this.trialName]!, this.machine)
    plant.startStates.forEach((value, i) => {
      const own = starts.get(plant.stateNames[i]!)
      const first = own === undefined ? value : this.parameter(`starts.${own.path}`, own.value)
      this.initial.push({ slot: slotOf(equation.x[i]!), value: first })
    })
    plant.startAsked.forEach((value, i) => this.initial.push({ slot: slotOf(asked[i]!), value }))
  }

  /** The block that writes a row of the record; gives where the row lies. */
  private publish(): number {
    const { only } = this
    if (only !== undefined) this.columns.splice(0, this.columns.length, ...this.columns.filter(({ name }) => only.has(name)))
    const row = this.layout.reserve(this.columns.length)
    this.block(
      'publish',
      this.columns.map(({ value }, i) => ({ slot: row + i, value })),
    )
    return row
  }

  private steps(plant: TrialPlant, equation: EquationSlots, rates: readonly Scalar[]) {
    const tickLength = 1 / this.baseRate
    const { control, time, bends } = this
    const between = {
      tick: control.tick,
      diverged: control.diverged,
      tickLength,
      time,
      ...(bends === undefined ? {} : { bends }),
    }
    if (plant.sampleTime !== undefined) return sampleBySample(equation, plant.sampleTime, between)
    const { method } = this
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
    const called = (block: string) => (this.blocks.some(({ name }) => name === block) ? [call(block)] : [])
    return {
      name: 'run',
      body: [
        repeatWhile(and(less(control.tick, control.stopTick), less(control.diverged, 1)), [
          ...called(handsBlock),
          ...(this.driven?.arrive(this.time) ?? []),
          ...called(chanceBlock),
          call(observedBlock),
          ...called(judgedBlock),
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
  private made({ plant, equation, control, row, steps, run, clearance }: MadeParts): Outcome<Program> {
    const { layout, recordEvery } = this
    if (this.only !== undefined) this.withoutUnread([...this.looks.procedures, ...steps.procedures, run])
    const prepared = this.hoisted()
    const prepare: Procedure = {
      name: 'prepare',
      body: [
        assign([...this.untouched, ...this.looks.initial]),
        ...[...steps.first, assign(prepared.first), assign(this.startsFirst), assign(this.started())],
      ],
    }
    const duration = trialDuration(this.settings)
    const ticks = Math.round(duration * this.baseRate) + 1
    const bytes = recordBytes(ticks, recordEvery, this.columns.length)
    if (bytes > mostRecordBytes) return tooLong(`trials.${this.trialName}`, bytes, duration)
    const { channels, lost } = this.handled.channels(this.parameters)
    if (lost.length > 0) return refused(lost.map((hand) => this.lostGain(hand)))
    const code: Code = {
      slots: layout.slots,
      procedures: [...prepared.procedures, ...this.looks.procedures, ...steps.procedures, run, prepare],
    }
    return done({
      module: printed(code),
      code,
      columns: this.columns.map(({ value: _value, ...column }) => column),
      ...(clearance === undefined ? {} : { afterwards: clearance }),
      parameters: this.parameters,
      stateNames: plant.stateNames,
      hands: channels,
      touches: touchesOf(this.document.trials[this.trialName]!, this.baseRate),
      cues: this.happenings.played.map(({ name, begins, over }) => ({ name, begins, over })),
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

  private lostGain(hand: string): Problem {
    const known = this.parameters.map(({ path }) => path).filter((path) => /^loops\.[^.]+\.gains\./.test(path))
    const where = `trials.${this.trialName}.hands.${hand}.gain`
    const gain = String(partsIn(this.document.trials[this.trialName]!.hands)[hand]!.gain)
    return { where, what: `No loop has the gain ${gain}.`, remedy: nameRemedy(gain, known) }
  }

  /** Lets go what is observed of the machine and read by nobody. */
  private withoutUnread(procedures: readonly Procedure[]): void {
    const observed = this.blocks.find(({ name }) => name === observedBlock)!
    const others = this.blocks.filter((block) => block !== observed)
    const read = slotsRead({
      slots: 0,
      procedures: [
        ...procedures,
        ...others.map(({ name, values, before = [] }) => ({ name, body: [...before, assign(values)] })),
        { name: observedBlock, body: observed.before ?? [] },
        { name: 'prepare', body: [assign([...this.startsFirst, ...this.initial, ...this.untouched])] },
      ],
    })
    observed.values = observed.values.filter(({ slot }) => read.has(slot))
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
    if (!this.handled.turns(path)) this.constants.add(slotOf(node))
    return node
  }

  /** Reads a machine's numbers from memory: as the model knows them, or as they truly are in the trial. */
  private machineReader(machine: Part, prefix: '' | 'true.'): (path: string) => Scalar {
    const nodes = new Map(
      machineNumbers(machine).map(({ path, value }) => [
        path,
        this.parameter(`${prefix}machines.${this.settings.machine}.${path}`, value),
      ]),
    )
    return (path) => nodes.get(path)!
  }

  private block(name: string, values: Assignment[], before?: readonly Statement[]): void {
    this.blocks.push({ name, values, ...(before === undefined ? {} : { before }) })
  }

  private column(column: Column, value: Scalar): void {
    this.columns.push({ ...column, value })
  }

  private loops(
    truth: ReadonlyMap<string, Scalar>,
    measured: MeasuredSignals,
    time: Scalar,
    tick: NumberNode,
    { holding, rest: rests }: Pick<TrialPlant, 'holding' | 'rest'>,
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
      const dt = sampling ? design.model.dt : 1 / this.baseRate
      const [values, initial]: [Assignment[], Assignment[]] = [[], []]
      const signal = (of: string) => `loops.${name}.${of}`
      const given = command ?? add(rest, motion[0])
      const reference = this.altered(signal('reference'), given, dt, rest, values, initial)
      const asks = reference === given ? motion[0] : sub(reference, rest)
      const absolute: Motion = command === undefined ? [reference, motion[1], motion[2]] : [reference, 0, 0]
      const block = loopBlock({
        ...{ name, document: this.document, design, layout: this.layout, machine: this.machine, read, reference },
        rest,
        beside: beside === undefined ? undefined : (commands.get(beside) ?? asked.get(beside)![0]),
        forward: {
          asked: command === undefined ? [asks, motion[1], motion[2]] : [sub(reference, rest), 0, 0],
          absolute,
          isPosition: findHeld(this.machine, holds)!.rate !== undefined,
          holding: inner === undefined ? (holding.get(pushes) ?? 0) : 0,
          inverse: (moving) => inverse(moving).get(name)!,
          away: (signal) => sub(read(signal), rests.held(signal) ?? 0),
          dt,
        },
        on: feedbackOf(this.document, this.happenings.played, name)?.(time),
        push: pushOf(this.document, this.document.loops[name]!)!,
        base: inner === undefined ? 0 : this.parameter(`loops.${name}.rest.command`, design.nominalPush),
        dt,
        delay: sampling ? design.values.delay : 0,
        every: sampling ? Math.round(this.baseRate * design.model.dt) : 1,
        parameter: (path, value) => this.parameter(path, value),
        altered: (one, start, put) => this.happenings.altered(signal('command'), one, dt, start, put),
      })
      block.values.push(...values)
      block.initial.push(...initial)
      this.block(block.name, block.values)
      if (inner !== undefined) commands.set(inner, block.applied)
      return block
    })
  }

  /** What cues and hands ask of a loop; with derivatives where a feedforward may want them. */
  private asked(name: string, { values }: LoopDesign, time: Scalar, tick: NumberNode): Motion {
    const { played } = this.happenings
    const value = cuedReference(this.document, played, name, (path, number) => this.parameter(path, number))(time)
    const hand = this.handled.asked(name) ?? { value: 0, rate: 0 }
    const wanted = Object.values(this.designs).some(({ forward }) => forward.block.needsEquations)
    if (!wanted && Object.keys(values.feedforwards).length === 0) return [add(value, hand.value), 0, 0]
    const [asked, rate, acceleration] = withDerivatives(value, slotOf(tick), 1 / this.baseRate)
    return [add(asked, hand.value), add(rate, hand.rate), acceleration]
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
      () => this.constant(),
    )
    const { first: second, expressions: rest } = this.hoistedOnceDriven(expressions)
    let at = 0
    const procedures = this.blocks.map(({ name, values, before = [] }) => ({
      name,
      body: [
        ...before,
        assign(values.map(({ slot }) => ({ slot, value: rest[at++]! }))),
        ...(name === driveBlock ? [assign(second)] : []),
      ],
    }))
    this.initial.splice(0, this.initial.length, ...this.initial.map(({ slot }) => ({ slot, value: rest[at++]! })))
    return { first, procedures }
  }

  /** A slot for what stays as it is during a run. */
  private constant(): number {
    const slot = this.layout.reserve(1)
    this.constants.add(slot)
    return slot
  }

  /** What depends on numbers that cues drive, and on nothing that moves, is worked out where those are. */
  private hoistedOnceDriven(expressions: readonly Scalar[]): { first: readonly Assignment[]; expressions: readonly Scalar[] } {
    const { driven } = this
    if (driven === undefined) return { first: [], expressions }
    return hoistInvariants(
      this.graph,
      expressions,
      (slot) => this.constants.has(slot) || driven.slots.has(slot),
      () => this.layout.reserve(1),
    )
  }
}

function tooLong(where: string, bytes: number, duration: number): Outcome<never> {
  const what = `Its record of ${Math.round(duration)} s would have ${Math.round(bytes / 1e6)} MB; at most ${mostRecordBytes / 1e6} MB are kept.`
  const shorter = Math.floor((duration * mostRecordBytes) / bytes)
  return refusedFor(where, what, `End it before ${shorter} s, or let its loops and sensors sample more slowly.`)
}

/** s: when the last cue is over that comes by the clock. */
export function lastCueEnd(settings: Pick<ValuesOf<typeof trial>, 'cues'>): number {
  const lasting = playedCues(settings as unknown as Part, asTyped).filter(({ kind }) => kind.lane !== 'hands')
  const ends = lasting.map(({ over }) => over as number)
  return Math.max(0, ...ends.filter((end) => end < never))
}

/** s: until `after` from the end of the last cue. */
export function trialDuration(settings: Pick<ValuesOf<typeof trial>, 'cues' | 'after'>): number {
  return lastCueEnd(settings) + settings.after
}
