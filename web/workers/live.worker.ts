import { expose, transfer } from 'comlink'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part, Problem } from '@calm-hand/core/document'
import { Pace, Touches, columnsOver, layerNamesOn, verdictsOf } from '@calm-hand/core/simulation'
import type { Column, CueCame, Ending, Going, HandTouch, Program, Verdict } from '@calm-hand/core/simulation'
import { createLastProgram } from './lastProgram'
import { whileHeard } from './whileHeard'

/** What a run that is taken by hand consists of. */
export interface LiveStart {
  readonly kind: 'live'
  readonly columns: readonly Column[]
  /** s between rows, how many there may be, and where it ends, s. */
  readonly rowSeconds: number
  readonly rows: number
  readonly end: number
  /** Realism layers that are on. */
  readonly layers: readonly string[]
}

/** Where it is now. */
export interface LivePicture {
  /** s */
  readonly t: number
  readonly row: Float64Array
  /** How fast it goes, of true time; how much of its time computing takes; ms of the clock that were given up. */
  readonly factor: number
  readonly load: number
  readonly lost: number
  /** ms: how far it is off the clock. */
  readonly clockError: number
  /** Touches that it has seen. */
  readonly touched: number
}

/** What came since the last. */
export interface LiveRows {
  readonly rows: Float64Array
  readonly cues: readonly CueCame[]
  readonly verdicts: readonly Verdict[]
  readonly touches: readonly Part[]
  /** It ends here, by itself. */
  readonly ending?: Ending
}

/** Each answers once what it was given is drawn. */
export interface LiveWatch {
  readonly onPicture: (picture: LivePicture) => Promise<void>
  readonly onRows: (rows: LiveRows) => Promise<void>
}

/** ms between looks at the clock, pictures, and rows, which strips are drawn from; at most so long it computes without listening. */
const [beatMs, pictureMs, rowsMs, longestMs] = [4, 14, 400, 10]

/** Pictures and rows that a page may have before it that it has not drawn: one that it draws, and one to draw next. */
const [mostPictures, mostRows] = [2, 1]

const programs = createLastProgram()
let session: Session | undefined

class Session {
  private readonly pace: Pace
  private readonly touches: Touches
  private readonly width: number
  private rows: Float64Array
  private filled = 0
  private sentTo = 0
  private timer: ReturnType<typeof setTimeout> | undefined
  private shown = 0
  private told = 0
  private busy = 0
  private since = performance.now()
  private row: Float64Array
  private touched = 0
  private readonly picture: ReturnType<typeof whileHeard<LivePicture>>
  private readonly came: ReturnType<typeof whileHeard<LiveRows>>

  constructor(
    private readonly document: Document,
    private readonly trial: string,
    private readonly program: Program,
    private readonly going: Going,
    speed: number,
    watch: LiveWatch,
  ) {
    this.pace = new Pace(speed)
    this.touches = new Touches(program, going)
    this.width = program.columns.length
    this.rows = new Float64Array(4096 * this.width)
    this.row = new Float64Array(this.width)
    this.picture = whileHeard(mostPictures, (picture) => watch.onPicture(picture))
    this.came = whileHeard(mostRows, (came) => watch.onRows(transfer(came, [came.rows.buffer])))
  }

  get cues(): readonly Part[] {
    return this.touches.cues
  }

  touch(touch: HandTouch): void {
    this.touched++
    this.touches.touch(touch)
  }

  goOn(speed: number): void {
    this.pace.again(speed)
    if (this.timer === undefined) this.beat()
  }

  pause(): void {
    clearTimeout(this.timer)
    this.timer = undefined
    this.showAll()
  }

  step(seconds: number): void {
    this.pause()
    this.goTo(this.going.tick + Math.max(1, Math.round(seconds / this.program.tick)), Infinity)
    this.showAll()
  }

  /** Where it stands, whatever of it was drawn. */
  private showAll(): void {
    this.show(performance.now(), true)
    this.tell(performance.now(), true)
  }

  /** s */
  private get t(): number {
    return this.going.tick * this.program.tick
  }

  private goTo(tick: number, until: number): void {
    const stride = Math.max(1, Math.round(0.002 / this.program.tick))
    while (this.going.tick < tick && !this.going.isOver && performance.now() < until)
      this.going.advance(Math.min(this.going.tick + stride, tick))
    const rows = this.going.taken()
    if (rows.length === 0) return
    if (this.filled + rows.length > this.rows.length) {
      const larger = new Float64Array(2 * (this.filled + rows.length))
      larger.set(this.rows.subarray(0, this.filled))
      this.rows = larger
    }
    this.rows.set(rows, this.filled)
    this.filled += rows.length
    this.row = rows.slice(-this.width)
  }

  private readonly beat = (): void => {
    const began = performance.now()
    const aim = this.pace.aim(began, this.t)
    this.goTo(Math.floor(aim / this.program.tick + 1e-9), began + longestMs)
    const now = performance.now()
    this.busy += now - began
    const { isOver: ends } = this.going
    if (now - this.shown >= pictureMs || ends) this.show(now, ends)
    const isOver = now - this.told >= rowsMs || ends ? this.tell(now, ends) : false
    this.timer = isOver ? undefined : setTimeout(this.beat, beatMs)
  }

  private show(now: number, always: boolean): void {
    const shown = this.picture(() => {
      const load = this.busy / Math.max(1, now - this.since)
      const { lost, off: clockError } = this.pace
      return { t: this.t, row: this.row, factor: this.pace.factor(now, this.t), load, lost, clockError, touched: this.touched }
    }, always)
    if (shown) this.shown = now
  }

  /** Hands over what came; whether that was the last of it. */
  private tell(now: number, always: boolean): boolean {
    let ending: Ending | undefined
    const told = this.came(() => {
      const rows = this.rows.slice(this.sentTo, this.filled)
      this.sentTo = this.filled
      const verdicts = this.verdicts()
      ending = this.ending(verdicts)
      const came = { rows, cues: this.going.cues(), verdicts, touches: this.touches.cues }
      return ending === undefined ? came : { ...came, ending }
    }, always)
    if (told) [this.told, this.busy, this.since] = [now, 0, now]
    return ending !== undefined
  }

  private ending(verdicts: readonly Verdict[]): Ending | undefined {
    if (this.going.isOver) return this.going.record().ending
    const failed = verdicts.find(
      ({ check, failedAt }) => failedAt !== undefined && failedAt < this.t && this.checks[check]?.ends === 'ends',
    )
    return failed === undefined ? undefined : { kind: 'ended', at: failed.failedAt!, check: failed.check }
  }

  private get checks() {
    return partsIn(this.document.trials[this.trial]!.checks)
  }

  private verdicts(): readonly Verdict[] {
    if (Object.keys(this.checks).length === 0 || this.filled === 0) return []
    const count = this.filled / this.width
    const every = this.program.recordEvery * this.program.tick
    const time = Float64Array.from({ length: count }, (_, k) => k * every)
    const columns = columnsOver(this.program.columns, this.rows.subarray(0, this.filled))
    return verdictsOf(this.document, this.trial, { time, columns, ending: { kind: 'goesOn' }, cues: this.going.cues() })
  }
}

/** A run that a person takes by hand: it goes along with the clock, away from the interface. */
const live = {
  async begin(
    given: Document,
    trial: string,
    watch: LiveWatch,
  ): Promise<LiveStart | { readonly kind: 'refused'; readonly problems: readonly Problem[] }> {
    session?.pause()
    session = undefined
    const ready = await programs(given, trial)
    if (ready.kind === 'refused') return { kind: 'refused', problems: ready.problems }
    const { document, program, simulation } = ready.value
    const part = document.trials[trial]!
    const layers = layerNamesOn(part)
    const going = simulation.begin({ trial, seed: part.seed, layers })
    session = new Session(document, trial, program, going, 1, watch)
    const rows = Math.floor((program.ticks - 1) / program.recordEvery) + 1
    const rowSeconds = program.recordEvery * program.tick
    return { kind: 'live', columns: program.columns, rowSeconds, rows, end: (program.ticks - 1) * program.tick, layers }
  },
  goOn: (speed: number) => session?.goOn(speed),
  pause: () => session?.pause(),
  step: (seconds: number) => session?.step(seconds),
  touch: (touch: HandTouch) => session?.touch(touch),
  /** Ends it; what was touched. */
  end(): readonly Part[] {
    session?.pause()
    const cues = session?.cues ?? []
    session = undefined
    return cues
  },
}

export type LiveSimulator = typeof live
expose(live)
