import { isNode } from '../expression'
import type { Scalar } from '../expression'
import type { Atoms } from './atoms'
import { atomSum, constantSum, inverseSum, plusSum, timesSum, zero } from './sum'
import type { Sum } from './sum'

/** Products of one intermediate sum: beyond, no one would read what comes out. */
const mostProducts = 3000

/** A reader of expressions as sums: `letterOf` names the atom of a slot. Gives nothing where a sum grows too big to read. */
export function createReader(atoms: Atoms, letterOf: (slot: number) => string): (expression: Scalar) => Sum | undefined {
  const known = new Map<number, Sum | undefined>()
  const read = (expression: Scalar): Sum | undefined => {
    if (!isNode(expression)) return constantSum(expression)
    if (!known.has(expression.id)) known.set(expression.id, ofNode(expression))
    return known.get(expression.id)
  }
  const ofNode = (node: Exclude<Scalar, number>): Sum | undefined => {
    const operands = node.operands.filter(
      (one): one is Scalar => typeof one === 'number' || (typeof one === 'object' && one.sort === 'number'),
    )
    const sums = operands.map(read)
    if (sums.some((one) => one === undefined)) return undefined
    const [a, b] = sums as [Sum, Sum]
    switch (node.operation) {
      case 'slot':
        return atomSum(letterOf(node.index))
      case 'add':
        return plusSum(a, b)
      case 'subtract':
        return plusSum(a, b, -1)
      case 'negate':
        return plusSum(zero, a, -1)
      case 'multiply':
        return timesSum(a, b, mostProducts)
      case 'divide': {
        const inverse = inverseSum(b)
        return inverse === undefined ? undefined : timesSum(a, inverse, mostProducts)
      }
      case 'pow':
        return powerOf(a, operands[1]!)
      case 'sin':
      case 'cos':
        return turnOf(node.operation, a, atoms)
      default:
        return undefined
    }
  }
  return read
}

/** Exponents that are multiplied out. */
const mostPower = 6

/** A whole power; of a single product also a negative one. */
function powerOf(base: Sum, exponent: Scalar): Sum | undefined {
  if (isNode(exponent) || !Number.isInteger(exponent) || Math.abs(exponent) > mostPower) return undefined
  const factor = exponent < 0 ? inverseSum(base) : base
  let out: Sum | undefined = constantSum(1)
  for (let i = 0; i < Math.abs(exponent); i++)
    out = out === undefined || factor === undefined ? undefined : timesSum(out, factor, mostProducts)
  return out
}

/** Sine or cosine of a sum of letters with whole factors. */
function turnOf(of: 'sin' | 'cos', angle: Sum, atoms: Atoms): Sum | undefined {
  const letters = new Map<string, number>()
  for (const { factor, powers } of angle.values()) {
    const [only] = powers
    if (powers.size !== 1 || only?.[1] !== 1 || !Number.isInteger(factor)) return undefined
    letters.set(only[0], factor)
  }
  if (letters.size === 0) return undefined
  const { key, sign } = atoms.signedTurn(of, letters)
  return plusSum(zero, atomSum(key), sign)
}
