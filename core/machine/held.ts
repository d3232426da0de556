/** Whether an angle adds up over turns or starts again after one; errors between angles that go round are wrapped. */
export type AngleSort = 'countsTurns' | 'goesRound'

/** A quantity that is one component of a vector: loops on both make up for the error of the vector. */
export interface VectorComponent {
  /** What the vector is called. */
  readonly of: string
  readonly component: 0 | 1
  /** The quantity of its other component. */
  readonly beside: string
  /** Roll, pitch and heading of the body that it is of: the error of the vector is made up for about the body's own axes. */
  readonly attitude: readonly [roll: string, pitch: string, heading: string]
}

/** What a loop can hold. */
export interface HeldQuantity {
  readonly name: string
  readonly label: string
  readonly unit: string
  /** The quantity that is its time derivative, where there is one. */
  readonly rate?: string
  readonly angle?: AngleSort
  readonly vector?: VectorComponent
}
