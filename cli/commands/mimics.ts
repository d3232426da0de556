import { multiply, transpose } from '@calm-hand/core/algebra'
import type { Matrix } from '@calm-hand/core/algebra'
import type { RobotJoint } from '@calm-hand/core/formats'

/** One velocity coordinate of the tree; nothing for its joint where it is of a free base. */
export interface SpeedOf {
  readonly name: string
  readonly joint: RobotJoint | undefined
}

/** How all velocity coordinates follow from those that stay free where joints mimic others: speeds = spread x free. */
export class Mimics {
  /** Names of the free coordinates, in the order of the tree. */
  readonly free: readonly string[]
  /** all x free */
  readonly spread: Matrix

  constructor(private readonly speeds: readonly SpeedOf[]) {
    const first = speeds.filter(({ joint }) => joint?.mimic === undefined)
    this.free = first.map(({ name }) => name)
    this.spread = speeds.map((one) => {
      const { name, share } = this.source(one)
      return this.free.map((free) => (free === name ? share : 0))
    })
  }

  get areNone(): boolean {
    return this.free.length === this.speeds.length
  }

  /** Values of all coordinates, from those of the free ones in a list of all. */
  followed(all: readonly number[]): number[] {
    const free = all.filter((_, i) => this.speeds[i]!.joint?.mimic === undefined)
    return this.spread.map((row) => row.reduce((sum, share, k) => sum + share * free[k]!, 0))
  }

  /** Efforts on the free coordinates: those of joints that mimic add to what they mimic. */
  gathered(efforts: readonly number[]): number[] {
    return multiply(
      transpose(this.spread),
      efforts.map((value) => [value]),
    ).map(([value]) => value!)
  }

  reduced(massMatrix: Matrix): number[][] {
    return multiply(transpose(this.spread), multiply(massMatrix, this.spread))
  }

  /** The coordinate that one follows in the end, and its share of that; a ring of mimics follows nothing. */
  private source(of: SpeedOf): { name: string | undefined; share: number } {
    let [at, share]: [SpeedOf | undefined, number] = [of, 1]
    for (let depth = 0; at?.joint?.mimic !== undefined; depth++) {
      if (depth > this.speeds.length) return { name: undefined, share: 0 }
      const followed: string = at.joint.mimic.joint
      share *= at.joint.mimic.multiplier
      at = this.speeds.find(({ joint }) => joint?.name === followed)
    }
    return { name: at?.name, share }
  }
}
