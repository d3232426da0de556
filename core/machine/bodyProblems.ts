import { eigenvalues } from '../algebra'
import type { Problem } from '../document'
import { show } from './show'
import type { LinkedBody } from './linkedBody'

/** Below this a mass is a slip: no body of a machine weighs less than a microgram. */
const leastMass = 1e-9 // kg
/** Relative slack of the triangle inequality, for inertias given with few digits. */
const inertiaSlack = 1e-6

/** Masses and inertias that cannot be, which no schema can see. */
export function bodyProblems(path: string, name: string, body: LinkedBody): Problem[] {
  const mass = body.mass
  const inertia = body.inertia
  if (mass < leastMass) {
    const what = `The mass of ${name} is ${mass} kg. A body that moves cannot be lighter than ${leastMass} kg.`
    return [{ where: `${path}.mass`, what, remedy: 'Give its mass in kilograms, for example 0.25.' }]
  }
  return inertiaProblems(`${path}.inertia`, name, inertia)
}

function inertiaProblems(where: string, name: string, [xx, yy, zz, xy, xz, yz]: readonly number[]): Problem[] {
  const matrix = [
    [xx!, xy!, xz!],
    [xy!, yy!, yz!],
    [xz!, yz!, zz!],
  ]
  const moments = eigenvalues(matrix)
    ?.map(({ re }) => re)
    .sort((a, b) => a - b)
  if (moments === undefined)
    return [{ where, what: `The inertia of ${name} is not finite.`, remedy: 'Give six finite numbers in kg·m².' }]
  const [least, middle, most] = moments as [number, number, number]
  if (least <= 0) {
    const what = `The inertia of ${name} has a principal moment of ${show(least)} kg·m²; all three must be more than 0.`
    return [{ where, what, remedy: 'Check the signs and the products xy, xz, yz: they must be small beside the moments.' }]
  }
  if (most <= (least + middle) * (1 + inertiaSlack)) return []
  const what = `No body can have the inertia of ${name}: the largest principal moment, ${show(most)} kg·m², exceeds the sum of the other two, ${show(least + middle)} kg·m².`
  return [{ where, what, remedy: `Lower the largest to at most ${show(least + middle)} kg·m², or raise the others.` }]
}
