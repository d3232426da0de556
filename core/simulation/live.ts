import { partsIn, replaceAt } from '../document'
import type { Document, Part } from '../document'
import type { Program } from './compile'
import { touchCue } from './cues'
import type { HandAxis } from './hands'
import type { Going } from './run'

/** A hand where a person has it. */
export interface HandTouch {
  readonly hand: string
  readonly axis: HandAxis
  readonly to: number
  /** s for its whole way. */
  readonly over: number
  /** Whether it goes on being held. */
  readonly isHeld: boolean
}

interface KeptTouch {
  readonly hand: string
  readonly axis: HandAxis
  readonly from: number
  readonly rows: [tick: number, to: number, over: number][]
  isOver: boolean
}

/** The touches of a run that is taken by hand: given on to the run at its next tick, and kept as cues. */
export class Touches {
  private readonly kept: KeptTouch[] = []

  constructor(
    private readonly program: Pick<Program, 'tick'>,
    private readonly going: Pick<Going, 'tick' | 'touch'>,
  ) {}

  touch({ hand, axis, to, over, isHeld }: HandTouch): void {
    const { tick } = this.going
    this.going.touch({ hand, axis, to, over })
    const touch = this.openTouch(hand, axis) ?? this.begun(hand, axis)
    if (touch.rows.at(-1)?.[0] === tick) touch.rows.pop()
    touch.rows.push([tick, to, over])
    touch.isOver = !isHeld
  }

  private openTouch(hand: string, axis: HandAxis): KeptTouch | undefined {
    const last = this.kept.filter((one) => one.hand === hand && one.axis === axis).at(-1)
    // let go and touched again within a tick: one touch, as of two rows at one time the last alone counts
    return last !== undefined && (!last.isOver || last.rows.at(-1)![0] === this.going.tick) ? last : undefined
  }

  private begun(hand: string, axis: HandAxis): KeptTouch {
    const touch: KeptTouch = { hand, axis, from: this.going.tick, rows: [], isOver: false }
    this.kept.push(touch)
    return touch
  }

  /** What was touched as cues, in time. */
  get cues(): readonly Part[] {
    const { tick: seconds } = this.program
    return this.kept.map(({ hand, axis, from, rows }) => ({
      ...{ kind: touchCue.name, hand, axis, at: from * seconds },
      points: rows.map(([tick, to, over]) => [(tick - from) * seconds, to, over]),
    }))
  }
}

/** The document with these touches in place of those that the trial kept. */
export function withTouches(document: Document, trial: string, touches: readonly Part[]): Document {
  const others = Object.entries(partsIn(document.trials[trial]!.cues)).filter(([, { kind }]) => kind !== touchCue.name)
  const taken = new Set(others.map(([name]) => name))
  const named: [string, Part][] = []
  for (const touch of touches) {
    let n = named.length + 1
    while (taken.has(`touch${n}`)) n++
    taken.add(`touch${n}`)
    named.push([`touch${n}`, touch])
  }
  return replaceAt(document, `trials.${trial}.cues`, Object.fromEntries([...others, ...named]))
}

/** ms: simulated time that is farther behind the clock is given up, and told. */
const mostBehind = 100

/**
 * How the time of a run follows the clock. It never goes ahead of it; where computing cannot keep up, the clock of the run
 * slows, and `factor` says to what.
 */
export class Pace {
  private anchor: { readonly wall: number; readonly run: number } | undefined
  private given = 0
  /** Over the last while: when it was looked at, ms, and how far it had got, s. */
  private readonly looks: { readonly wall: number; readonly run: number }[] = []

  constructor(private speed: number) {}

  /** s: how far a run that is at `run`, s, should be at a time, ms. */
  aim(wall: number, run: number): number {
    this.anchor ??= { wall, run }
    const aim = this.anchor.run + ((wall - this.anchor.wall) / 1000) * this.speed
    const behind = ((aim - run) / this.speed) * 1000
    if (behind > mostBehind) {
      this.given += behind - mostBehind
      this.anchor = { wall, run: run + (mostBehind / 1000) * this.speed }
      return this.anchor.run
    }
    return aim
  }

  /** Goes on from here at another speed, or after a pause. */
  again(speed = this.speed): void {
    this.speed = speed
    this.anchor = undefined
    this.looks.length = 0
  }

  /** ms of the clock that were given up. */
  get lost(): number {
    return this.given
  }

  /** ms: how far the run is off the clock; the least of the last while, since it moves by ticks. */
  get off(): number {
    const { anchor } = this
    if (anchor === undefined) return 0
    const lags = this.looks.map(({ wall, run }) => wall - anchor.wall - ((run - anchor.run) / this.speed) * 1000)
    return lags.length === 0 ? 0 : Math.min(...lags)
  }

  /** Tells where the run got to at a time, ms; gives how fast it goes, of true time. */
  factor(wall: number, run: number): number {
    this.looks.push({ wall, run })
    while (this.looks.length > 2 && this.looks[1]!.wall < wall - 1000) this.looks.shift()
    const [first] = this.looks as [{ wall: number; run: number }]
    return wall === first.wall ? this.speed : (run - first.run) / ((wall - first.wall) / 1000)
  }
}
