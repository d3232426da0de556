import type { Scalar } from '../expression'
import type { Vector } from '../algebra'

/** Gives the value at a path inside a machine: a number, or the memory slot that will hold it. */
export type Read = (path: string) => Scalar

/** The three numbers of a vector at a path. */
export function readVector(read: Read, path: string): Vector {
  return [read(`${path}.0`), read(`${path}.1`), read(`${path}.2`)]
}
