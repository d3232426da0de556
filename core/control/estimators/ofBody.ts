import { sub } from '../../expression'
import type { Scalar } from '../../expression'
import { minus } from '../../algebra'
import type { Vector } from '../../algebra'
import type { Part, Problem } from '../../document'
import { ground, groundUnder, readingParts, readVector, sensorsOf } from '../../machine'
import type { Read } from '../../machine'

/** What loops call a value of an attitude or place of a body; nothing where the machine has no such reading. */
type Named = (value: string) => string | undefined

const nameless: Named = () => undefined

/** Nothing is known of a sensor that is not there: that is a problem told elsewhere. */
export function sensorOf(machine: Part, name: unknown): Part {
  return sensorsOf(machine)[name as string] ?? { kind: '' }
}

function seenFromGround(machine: Part, kind: string, body: unknown) {
  return readingParts(machine).filter(({ part }) => part.kind === kind && part.body === body && part.from === ground)
}

function named(path: string | undefined): Named {
  return path === undefined ? nameless : (value) => `${path}.${value}`
}

/** The attitude of the body that a sensor sits on. */
export function attitudeOf(machine: Part, sensor: unknown): Named {
  return named(seenFromGround(machine, 'attitudeReading', sensorOf(machine, sensor).body)[0]?.path)
}

/** The place of the very point where a sensor sits: nothing else is moved as an accelerometer there feels it. */
export function placeOf(machine: Part, sensor: unknown): Named {
  return named(placeReadingOf(machine, sensor)?.path)
}

function placeReadingOf(machine: Part, sensor: unknown) {
  const { body, at } = sensorOf(machine, sensor)
  return seenFromGround(machine, 'placeReading', body).find(({ part }) => JSON.stringify(part.at) === JSON.stringify(at))
}

/** p_inertial_sensor in axes of the body: from the inertial sensor to another sensor of the body, m. */
export function armOf(machine: Part, known: Read, inertial: unknown, sensor: unknown): Vector {
  const [one, other] = [sensorOf(machine, inertial), sensorOf(machine, sensor)]
  if (JSON.stringify(one.at) === JSON.stringify(other.at)) return [0, 0, 0]
  const from = (name: unknown) => readVector(known, `sensors.${name as string}.at`)
  return minus(from(sensor), from(inertial))
}

/** Where the places of a body count from, m. */
export function countedFrom(machine: Part, known: Read, inertial: unknown): Vector {
  return readVector(known, `${placeReadingOf(machine, inertial)!.path}.fromAt`)
}

/**
 * How high the ground under the machine at rest is, over where heights of the body count from, m: what a range finder is
 * thought to look at.
 */
export function groundBelow(machine: Part, known: Read, inertial: unknown, restsAt: (quantity: string) => number): Scalar {
  const { path, part } = placeReadingOf(machine, inertial)!
  const [east, north] = part.fromAt as readonly [number, number]
  const level = groundUnder(machine)(east + restsAt(`${path}.east`), north + restsAt(`${path}.north`))
  return sub(level, known(`${path}.fromAt.2`))
}

/** What is missing where an estimator of a body has nothing to estimate. */
export function unseenProblems(
  where: string,
  machine: Part,
  sensor: unknown,
  wanted: readonly ('attitude' | 'place')[],
): Problem[] {
  const has = { attitude: attitudeOf(machine, sensor)('roll'), place: placeOf(machine, sensor)('height') }
  const { body, at } = sensorOf(machine, sensor) as unknown as { readonly body: string; readonly at: readonly number[] }
  return wanted
    .filter((one) => has[one] === undefined)
    .map((one) => {
      const whose = one === 'place' ? `${body} at ${at.join(', ')} m, where the sensor sits` : body
      return {
        where,
        what: `It would estimate the ${one} of ${whose}, but the machine has no such reading.`,
        remedy: `Add a reading: the ${one} of ${whose}, seen from ground.`,
      }
    })
}

/** Sensors that one filter reads must sit on one body: it turns what the one reads by how the other is turned. */
export function apartProblems(where: string, machine: Part, inertial: unknown, sensor: unknown): Problem[] {
  const [one, other] = [inertial, sensor].map((name) => sensorOf(machine, name).body as string | undefined)
  if (one === other) return []
  const what = `This sensor sits on ${other}, the inertial sensor on ${one}.`
  return [{ where, what, remedy: 'Choose two sensors of one body.' }]
}
