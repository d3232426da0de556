export {
  Graph,
  abs,
  add,
  and,
  atMost,
  both,
  clamp,
  div,
  entry,
  equal,
  everySlot,
  floor,
  isNode,
  lane,
  less,
  lookup,
  max,
  min,
  mul,
  neg,
  not,
  or,
} from './graph'
export { select, sqrt, square, sub, sum, uniform } from './graph'
export { acos, asin, atan, atan2, cos, exp, log, pow, sin, tan } from './functions'
export { derivatives, jacobian, pairedJacobian } from './derivative'
export { jacobianAt, tapeOf } from './tape'
export type { Tape } from './tape'
export { evaluate, evaluation, replacement, substitution } from './rebuild'
export { hoistInvariants } from './invariants'
export { tangentOf } from './tangent'
export { assign, call, copy, repeatWhile, set, when } from './procedure'
export { printTwin } from './wasm/twin'
export { fingerprint, slotsRead } from './fingerprint'
export { printWasm } from './wasm/print'
export { printC } from './c/print'
export { loadModule } from './load'
export type { Flag, FlagNode, NumberNode, Scalar, Table } from './graph'
export type { Assignment, Code, Procedure, Statement } from './procedure'
export type { LoadedModule } from './load'
export type { WasmModule } from './wasm/print'
