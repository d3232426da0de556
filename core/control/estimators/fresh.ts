import type { Part } from '../../document'
import { blankPart } from '../../kinds'
import type { EstimatorKind } from './estimator'
import { sensorsOf } from '../../machine'

/** What a filter assumes at first, by unit: about what small sensors have (common practice, no source). */
const assumed: Readonly<Record<string, number>> = { m: 0.5, 'm/s': 0.3, rad: 0.02, 'rad/s': 0.005, 'm/s²': 0.2, s: 2 }

/**
 * A new estimator that reads the first sensor of the sorts that it needs; nothing where its machine lacks one. Numbers that
 * are not given are assumed by their units.
 */
export function readingSensors(
  kind: Pick<EstimatorKind, 'name' | 'says' | 'about' | 'slots' | 'needs'>,
  name: string,
  machine: Part,
  given: Readonly<Record<string, number>> = {},
): Part | undefined {
  const sensors = Object.entries(sensorsOf(machine))
  const found = Object.entries(kind.needs ?? {}).map(
    ([slot, sorts]) => [slot, sensors.find(([, sensor]) => sorts.includes(sensor.kind))?.[0]] as const,
  )
  if (found.some(([, sensor]) => sensor === undefined)) return undefined
  const numbers = Object.entries(kind.slots).flatMap(([slot, one]) =>
    one.type === 'number' && one.otherwise === undefined ? [[slot, assumed[one.unit] ?? 1] as const] : [],
  )
  return blankPart(kind, { machine: name, ...Object.fromEntries(found), ...Object.fromEntries(numbers), ...given } as never)
}
