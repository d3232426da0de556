import { add, div, min, mul, square } from '../../expression'
import type { Scalar } from '../../expression'
import { boundedLeastSquares, scalarProduct, scalarTranspose, solveDefinite } from '../../algebra'
import { partsIn, rememberedOf } from '../../document'
import type { Part } from '../../document'
import { namesIn } from '../../kinds'
import { effectParts } from '../mechanismMotion'
import type { Read } from '../read'
import { typedMix, withinLimits } from './allocations'
import { bodyPush } from './bodyPush'
import { effectiveness } from './effectiveness'
import { effortInput, effortLimits } from './efforts'
import type { DrivePart } from './efforts'
import { pushPart } from './pushPart'

type Rows = readonly (readonly Scalar[])[]

/** Allocations of a machine with their document paths. */
export function allocationParts(machine: Part): { readonly path: string; readonly part: Part }[] {
  return Object.entries(partsIn(machine.allocations)).map(([name, part]) => ({
    path: `allocations.${name}`,
    part,
  }))
}

/**
 * What is asked of all drives for pushes, by path: through the allocations of the machine, from the numbers its software
 * knows. `limited`: where drives have limits, an allocation that knows them stays within.
 */
export function spread(
  machine: Part,
  known: Read,
  pushes: (name: string) => Scalar,
  limited: boolean,
): ReadonlyMap<string, Scalar> {
  const drives = new Map(effectParts(machine).map((one) => [one.path, one]))
  return new Map(
    allocationParts(machine).flatMap(({ path, part }) => {
      const names = namesIn(part.drives)
      const asked = namesIn(part.pushes).map(pushes)
      const parts = names.map((name) => drives.get(name)!)
      const efforts = effortsFor(machine, known, { path, part }, parts, asked, limited)
      return parts.map((one, i) => [one.path, effortInput(one, efforts[i]!, known)] as const)
    }),
  )
}

function effortsFor(
  machine: Part,
  known: Read,
  { path, part }: { readonly path: string; readonly part: Part },
  drives: readonly DrivePart[],
  asked: readonly Scalar[],
  limited: boolean,
): readonly Scalar[] {
  if (part.kind === typedMix.name) {
    const shares = drives.map((_, i) => asked.map((__, k) => known(`${path}.mix.${i}.${k}`)))
    return scalarProduct(shares, column(asked)).map(([effort]) => effort!)
  }
  const pushes = namesIn(part.pushes)
  const scale = pushes.map((push) => leverOf(machine, push, known))
  const b = givenBy(machine, known, pushes, drives).map((row, i) => row.map((value) => div(value, scale[i]!)))
  const wanted = asked.map((push, i) => div(push, scale[i]!))
  const mix = leastSquared(b, wanted)
  if (part.kind !== withinLimits.name || !limited) return mix
  const counts = pushes.map((_, i) => square(known(`${path}.counts.0.${i}`)))
  return withinTheirLimits(
    b,
    wanted,
    mix,
    counts,
    drives.map((drive) => effortLimits(drive, known)),
  )
}

/** By machine and reader: neither changes. */
const given = new WeakMap<Part, WeakMap<Read, Map<string, Rows>>>()

/** Pushes x drives: what a unit of effort gives of each push. Pushes of one body count together; a mixture is what it is mixed of. */
export function givenBy(machine: Part, known: Read, pushes: readonly string[], drives: readonly DrivePart[]): Rows {
  let mine = given.get(machine)
  if (mine === undefined) given.set(machine, (mine = new WeakMap()))
  const key = JSON.stringify([pushes, drives.map(({ path }) => path)])
  return rememberedOf(mine, known, key, () => workedOut(machine, known, pushes, drives))
}

function workedOut(machine: Part, known: Read, pushes: readonly string[], drives: readonly DrivePart[]): Rows {
  const paths = drives.map(({ path }) => path)
  const partOf = (push: string) => pushPart(machine, push)
  const bodies = [...new Set(pushes.filter((push) => partOf(push).kind === bodyPush.name).map((push) => partOf(push).body))]
  const rows = new Map<string, readonly Scalar[]>()
  for (const body of bodies) {
    const own = pushes.filter((push) => partOf(push).body === body)
    effectiveness(machine, known, own, paths).forEach((row, i) => rows.set(own[i]!, row))
  }
  const mixed = pushes.filter((push) => !rows.has(push))
  const shares = mixed.map((push) => {
    const named = namesIn(partOf(push).drives)
    return paths.map((path) => (named.includes(path) ? known(`${push}.shares.0.${named.indexOf(path)}`) : 0))
  })
  // S⁺, so that each mixture alone asks for just its shares
  if (mixed.length > 0)
    solveDefinite(scalarProduct(shares, scalarTranspose(shares)), shares).forEach((row, i) => rows.set(mixed[i]!, row))
  return pushes.map((push) => rows.get(push)!)
}

/** The efforts with the least sum of squares that give b u = wanted. */
function leastSquared(b: Rows, wanted: readonly Scalar[]): readonly Scalar[] {
  const across = scalarTranspose(b)
  return scalarProduct(across, solveDefinite(scalarProduct(b, across), column(wanted))).map(([effort]) => effort!)
}

/** So much less than missing a push does it count to leave the plain mix. */
const awayFromMix = 1e-3

function withinTheirLimits(
  b: Rows,
  wanted: readonly Scalar[],
  mix: readonly Scalar[],
  counts: readonly Scalar[],
  limits: readonly (readonly [least: Scalar, most: Scalar])[],
): readonly Scalar[] {
  const away = mul(
    awayFromMix * awayFromMix,
    counts.reduce((least, count) => min(least, count)),
  )
  const weighed = b.map((row, i) => row.map((value) => mul(counts[i]!, value)))
  const bare = scalarProduct(scalarTranspose(b), weighed)
  const right = scalarProduct(scalarTranspose(weighed), column(wanted))
  return boundedLeastSquares({
    h: bare.map((row, i) => row.map((value, j) => (i === j ? add(value, away) : value))),
    g: right.map(([value], i) => add(value!, mul(away, mix[i]!))),
    least: limits.map(([least]) => least),
    most: limits.map(([, most]) => most),
    start: mix,
  })
}

/** What a push is measured by: a torque by its lever. */
function leverOf(machine: Part, push: string, known: Read): Scalar {
  const part = pushPart(machine, push)
  return part.kind === bodyPush.name && part.sort === 'torque' ? known(`${push}.lever`) : 1
}

function column(values: readonly Scalar[]): Scalar[][] {
  return values.map((value) => [value])
}
