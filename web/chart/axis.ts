export interface Axis {
  readonly domain: readonly [number, number]
  readonly ticks: readonly number[]
  readonly scale?: 'linear' | 'log'
  readonly label?: string
  readonly format?: (value: number) => string
}
