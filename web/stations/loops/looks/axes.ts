import type { Axis } from '../../../chart'
import { niceTicks } from '../../../chart'

export const frequencyAxis: Axis = {
  domain: [0.1, 600],
  ticks: [0.1, 1, 10, 100],
  scale: 'log',
  label: 'frequency, rad/s',
  format: (v) => String(v),
}

export const decibels = (factor: number) => 20 * Math.log10(factor)
export const degrees = (angle: number) => (angle * 180) / Math.PI

/** An axis from least to most with a few round ticks. */
export function plainAxis(least: number, most: number, label?: string): Axis {
  return { domain: [least, most], ticks: niceTicks(least, most, 5), ...(label === undefined ? {} : { label }) }
}
