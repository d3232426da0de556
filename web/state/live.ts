import { proxy, wrap } from 'comlink'
import type { Remote } from 'comlink'
import { create } from 'zustand'
import type { Part, Problem } from '@calm-hand/core/document'
import { columnsOver, withTouches } from '@calm-hand/core/simulation'
import type { CueCame, HandAxis, HandTouch, Record as RunRecord, Verdict } from '@calm-hand/core/simulation'
import type { LivePicture, LiveRows, LiveSimulator, LiveStart } from '../workers/live.worker'
import { inFrame } from '../compute'
import { setCursor } from './clock'
import { edit, lookedAt, useProject } from './project'
import { runNow } from './runNow'
import { safeLocal } from './safeStorage'

/** Where a run by hand is. `paused` says why, where that was not asked for. */
type LivePhase =
  | { readonly kind: 'off' }
  | { readonly kind: 'readying' }
  | { readonly kind: 'going' }
  | { readonly kind: 'paused'; readonly why?: string }
  | { readonly kind: 'over'; readonly why: string }
  | { readonly kind: 'refused'; readonly problems: readonly Problem[] }

interface Live {
  readonly phase: LivePhase
  readonly project: string | undefined
  readonly trial: string | undefined
  readonly speed: number
  /** The machine just now, as a record of one row. */
  readonly now: RunRecord | undefined
  readonly picture: LivePicture | undefined
  /** All up to a short while ago. */
  readonly record: RunRecord | undefined
  readonly verdicts: readonly Verdict[] | undefined
  readonly touches: readonly Part[]
  /** Where hands were moved, by name and axis. */
  readonly moved: Readonly<Record<string, number>>
  /** ms from a touch to the frame that shows it: the last one. */
  readonly handMs: number | undefined
}

const off: Live = {
  phase: { kind: 'off' },
  project: undefined,
  trial: undefined,
  speed: 1,
  now: undefined,
  picture: undefined,
  record: undefined,
  verdicts: undefined,
  touches: [],
  moved: {},
  handMs: undefined,
}
export const useLive = create<Live>(() => off)

/** Whether a trial is under a person's hands, also at rest. */
export function useIsLive(trial: string): boolean {
  return useInHand() === trial
}

/** The trial of the open project that is under a person's hands. */
export function useInHand(): string | undefined {
  const id = useProject(({ project }) => project?.id)
  return useLive((live) => (isOn(live.phase) && live.project === id ? live.trial : undefined))
}

function isOn({ kind }: LivePhase): boolean {
  return kind !== 'off' && kind !== 'refused'
}

let simulator: Remote<LiveSimulator> | undefined

function startedSimulator(): Remote<LiveSimulator> {
  simulator ??= wrap<LiveSimulator>(new Worker(new URL('../workers/live.worker.ts', import.meta.url), { type: 'module' }))
  return simulator
}

/** Runs count so that each is another for what is drawn. */
let count = 0

/** Begins a trial by hand, as the document is now; what it kept of earlier hands waits until this one is let go. */
export async function takeByHand(projectId: string, trial: string): Promise<void> {
  const { phase, project: before } = useLive.getState()
  if (isOn(phase) && before === projectId) return
  useLive.setState({ ...off, phase: { kind: 'readying' }, project: projectId, trial })
  const project = await lookedAt(projectId)
  const document = project?.valid
  if (document?.trials[trial] === undefined) return useLive.setState(off)
  const plain = withTouches(document, trial, [])
  const mine = ++count
  const keeping: { kept?: Keeping } = {}
  // nothing is told before it is let go on, below
  const told = (tell: (kept: Keeping) => void) => mine === count && keeping.kept !== undefined && tell(keeping.kept)
  const watch = proxy({
    onPicture: (picture: LivePicture) => drawn(() => told((kept) => show(kept, picture))),
    onRows: (rows: LiveRows) => drawn(() => told((kept) => take(kept, rows))),
  })
  const answer = await startedSimulator()
    .begin(plain, trial, watch)
    .catch((error: unknown) => ({ kind: 'refused' as const, problems: [brokeOff(trial, error)] }))
  if (mine !== count) return
  if (answer.kind === 'refused') return useLive.setState({ ...off, phase: answer, trial })
  keeping.kept = new Keeping(projectId, trial, answer)
  open = undefined
  touches = 0
  useLive.setState({ phase: { kind: 'going' } })
  setCursor(0)
  await startedSimulator().goOn(1)
}

/** Answers with the frame that shows it: who is told faster than the page draws would never see a frame. */
function drawn(tell: () => void): Promise<void> {
  tell()
  return new Promise((resolve) => inFrame(resolve))
}

function brokeOff(trial: string, error: unknown): Problem {
  const what = `The run broke off: ${(error as Error).message}`
  return { where: `trials.${trial}`, what, remedy: 'Take it by hand again.' }
}

/** The rows of a run by hand as they come. */
class Keeping {
  private readonly rows: Float64Array
  private readonly time: Float64Array
  private filled = 0

  constructor(
    readonly project: string,
    readonly trial: string,
    private readonly started: LiveStart,
  ) {
    this.rows = new Float64Array(started.rows * started.columns.length)
    this.time = Float64Array.from({ length: started.rows }, (_, k) => k * started.rowSeconds)
  }

  private recordOf(rows: Float64Array, time: Float64Array, cues: readonly CueCame[]): RunRecord {
    const { columns, layers } = this.started
    const hash = `by hand ${count}.${this.filled}`
    return {
      hash,
      trial: this.trial,
      seed: 0,
      layers,
      time,
      columns: columnsOver(columns, rows),
      ending: { kind: 'goesOn' },
      cues,
    }
  }

  add(rows: Float64Array, cues: readonly CueCame[]): RunRecord {
    const width = this.started.columns.length
    this.rows.set(rows, this.filled)
    this.filled += rows.length
    return this.recordOf(this.rows.subarray(0, this.filled), this.time.subarray(0, this.filled / width), cues)
  }

  now({ t, row }: LivePicture): RunRecord {
    return this.recordOf(row, Float64Array.of(t), [])
  }
}

/** The first touch that no picture has shown yet: which one, and when, ms. */
let open: { readonly touch: number; readonly at: number } | undefined
let touches = 0

function show(kept: Keeping, picture: LivePicture): void {
  useLive.setState({ picture, now: kept.now(picture) })
  setCursor(picture.t)
  if (open === undefined || picture.touched < open.touch) return
  const { at } = open
  open = undefined
  requestAnimationFrame(() => useLive.setState({ handMs: performance.now() - at }))
}

function take(kept: Keeping, { rows, cues, verdicts, touches, ending }: LiveRows): void {
  useLive.setState({ record: kept.add(rows, cues), verdicts, touches })
  safeLocal.setItem(placeOf(kept.project, kept.trial), JSON.stringify({ touches, at: Date.now() }))
  if (ending === undefined) return
  const why =
    ending.kind === 'diverged'
      ? `It diverged at ${ending.at.toFixed(2)} s.`
      : ending.kind === 'ended'
        ? `A check ended it at ${ending.at.toFixed(2)} s.`
        : 'It is at its end.'
  useLive.setState({ phase: { kind: 'over', why } })
}

export function touchHand(touch: HandTouch): void {
  touches++
  open ??= { touch: touches, at: performance.now() }
  useLive.setState(({ moved }) => ({ moved: { ...moved, [movedKey(touch.hand, touch.axis)]: touch.to } }))
  void simulator?.touch(touch)
}

export const movedKey = (hand: string, axis: HandAxis) => `${hand} ${axis}`

export function pauseLive(why?: string): void {
  if (useLive.getState().phase.kind !== 'going') return
  useLive.setState({ phase: { kind: 'paused', ...(why === undefined ? {} : { why }) } })
  void simulator?.pause()
}

export function goOnLive(speed = useLive.getState().speed): void {
  const { kind } = useLive.getState().phase
  useLive.setState({ speed })
  if (kind !== 'going' && kind !== 'paused') return
  useLive.setState({ phase: { kind: 'going' } })
  void simulator?.goOn(speed)
}

export function stepLive(seconds: number): void {
  if (useLive.getState().phase.kind !== 'paused') pauseLive()
  void simulator?.step(seconds)
}

/** Lets go: what was touched takes the place of what the trial kept of hands, and the trial runs with it. */
export async function letGoOfHands(): Promise<void> {
  const { project, trial, phase } = useLive.getState()
  if (!isOn(phase) || project === undefined || trial === undefined) return
  const touches = (await simulator?.end()) ?? []
  count++
  useLive.setState(off)
  keepTouches(trial, touches)
  safeLocal.removeItem(placeOf(project, trial))
  await runNow(project, trial)
}

/** Ends it, and keeps nothing of it. */
export function forgetHands(): void {
  const { project, trial } = useLive.getState()
  if (trial === undefined) return
  count++
  void simulator?.end()
  if (project !== undefined) safeLocal.removeItem(placeOf(project, trial))
  useLive.setState(off)
}

function keepTouches(trial: string, touches: readonly Part[]): void {
  edit({
    label: 'Take the trial by hand',
    apply: (document) => (document.trials[trial] === undefined ? document : withTouches(document, trial, touches)),
  })
}

const placeOf = (project: string, trial: string) => `calm-hand.hands.${project}.${trial}`

/** What hands did in a run that was broken off with its page. */
export interface BrokenOff {
  readonly touches: readonly Part[]
  /** ms */
  readonly at: number
}

export function brokenOff(project: string, trial: string): BrokenOff | undefined {
  const kept = safeLocal.getItem(placeOf(project, trial))
  if (kept === null) return undefined
  try {
    const found = JSON.parse(kept) as BrokenOff
    return Array.isArray(found.touches) && found.touches.length > 0 ? found : undefined
  } catch {
    return undefined
  }
}

export function takeBrokenOff(project: string, trial: string, take: boolean): void {
  const found = brokenOff(project, trial)
  safeLocal.removeItem(placeOf(project, trial))
  if (take && found !== undefined) {
    keepTouches(trial, found.touches)
    void runNow(project, trial)
  }
}
