export { addProduct } from './addProduct'
export { applied, cross, dividedBy, dot, minus, plus, rowsPlus, scaled, solved, transposedRows } from './vector'
export { attitude, product, quaternionFromRotation, quaternionOf, quaternionRate, rotation, upInBody, wrapped } from './rotation'
export { tiltAt, tiltError, tiltOf } from './tilt'
export { scalarProduct, scalarTranspose, solveDefinite } from './definite'
export {
  along,
  identity,
  multiply,
  norm,
  plusMatrix,
  rowNorm,
  solve,
  symmetricProduct,
  times,
  transpose,
  unitVector,
  zeros,
} from './matrix'
export { balancingScales, inScales } from './balance'
export { boundedLeastSquares } from './boundedLeastSquares'
export type { BoundedProblem } from './boundedLeastSquares'
export { leastChange } from './leastChange'
export { complex, magnitude, overComplex, plusComplex, solveComplex, timesComplex } from './complex'
export { eigenvalues, eigenvaluesWithin } from './eigenvalues'
export { exponentialOf } from './exponential'
export { hessenbergForm } from './hessenberg'
export { rankOf, singularValues } from './singularValues'
export { schurForm } from './schur'
export type { SingularValues } from './singularValues'
export type { Attitude, Quaternion } from './rotation'
export type { Complex } from './complex'
export type { Matrix } from './matrix'
export type { Rows, Vector } from './vector'
export {
  atOrigin,
  composed,
  crossForce,
  crossMotion,
  crossRows,
  forceOutOf,
  inertiaMinusOuter,
  inertiaOutOf,
  inertiaPlus,
  motionInto,
  origin,
  rigidOutOf,
  rigidPlus,
  rigidTimes,
  rowsTimes,
  spatialDot,
  spatialInertia,
  spatialPlus,
  spatialScaled,
  spatialTimes,
  turnAbout,
  turnedBy,
  unrotated,
} from './spatial'
export type { Placement, RigidInertia, Spatial, SpatialInertia } from './spatial'
export { principalAxes } from './symmetric'
