import {
  add,
  and,
  atMost,
  atan2,
  cos,
  div,
  exp,
  floor,
  less,
  log,
  max,
  min,
  mul,
  neg,
  not,
  pow,
  select,
  sin,
  sqrt,
  square,
  sub,
  tan,
  uniform,
} from '../expression'
import { abs, acos, asin, atan } from '../expression'
import type { Graph, Scalar } from '../expression'

/** Numbers in [0, 1) from a seed, for making test cases. */
export function numbersFrom(seed: number): () => number {
  let state = seed
  return () => {
    state = (state * 1664525 + 1013904223) % 2 ** 32
    return state / 2 ** 32
  }
}

/** Expressions of every operation over `inputs` slots; smooth ones only where `smooth` is asked for. */
export function randomExpressions(graph: Graph, seed: number, inputs: number, size: number, kind: 'smooth' | 'any'): Scalar[] {
  const next = numbersFrom(seed)
  const pool: Scalar[] = Array.from({ length: inputs }, (_, i) => graph.slot(i))
  const pick = () => (next() < 0.12 ? Math.round(next() * 80 - 40) / 8 : pool[Math.floor(next() * pool.length)]!)
  const recipes = kind === 'smooth' ? smooth : [...smooth, ...switching]
  for (let i = 0; i < size; i++) pool.push(recipes[Math.floor(next() * recipes.length)]!(pick(), pick()))
  return pool.slice(inputs)
}

const smooth: ((a: Scalar, b: Scalar) => Scalar)[] = [
  add,
  sub,
  mul,
  (a, b) => div(a, add(1.5, square(b))),
  neg,
  sin,
  cos,
  atan,
  atan2Safe,
  (a) => exp(sin(a)),
  (a) => log(add(1.1, square(a))),
  (a) => sqrt(add(0.3, square(a))),
  (a) => tan(mul(0.7, sin(a))),
  (a) => asin(mul(0.9, sin(a))),
  (a) => acos(mul(0.9, cos(a))),
  (a, b) => pow(add(1.2, square(sin(a))), sin(b)),
]

const switching: ((a: Scalar, b: Scalar) => Scalar)[] = [
  min,
  max,
  abs,
  floor,
  exp,
  log,
  pow,
  tan,
  sin,
  (a) => sin(mul(1e9, a)),
  (a, b) => select(less(a, b), a, sin(b)),
  (a, b) => select(and(atMost(a, 1), not(less(b, -1))), mul(a, b), b),
  (a, b) => uniform(7, floor(a), floor(b)),
]

function atan2Safe(a: Scalar, b: Scalar): Scalar {
  return atan2(a, add(2, square(b)))
}
