export { feedforwards, holding, measuredDisturbance } from './feedforwards'
export type { Feedforward, ForwardInputs, Motion } from './feedforwards'
export { followingJoints, inverseProblem, inversePushes } from './inverse'
export type { AskedOfLoop } from './inverse'
export { forwardNumbers, forwardOf, forwardProblems, referenceLoops } from './loopForward'
export type { LoopForward } from './loopForward'
export { filters } from './filters'
export {
  commandAtMost,
  delayRoomAtLeast,
  gainRoomAtLeast,
  givesWayAtMost,
  inHandAtLeast,
  keeps,
  keptBy,
  keptFrom,
  recoversWithin,
} from './keeps'
export type { Keep } from './keeps'
export { shaped, shapers } from './shapers'
export { filterProblems, lawOf, switchedStep } from './loopLaw'
export type { LoopLaw } from './loopLaw'
export { laws, stateFeedback } from './laws'
export {
  besideOf,
  chainProblems,
  asCued,
  commandedLoop,
  cuedPush,
  innerLoops,
  outerFirst,
  pushChoices,
  pushOf,
} from './loopChain'
export { channelOf, linearMachine, plantOf, seenBy } from './plant'
export { knownAs, knownOf, withTrueNumbers } from './trueNumbers'
export { predicted, updated } from './kalman'
export type { StateEstimate, ScalarMatrix } from './kalman'
export type { GainName, GainsOf, Law, LawInputs, LawStep } from './law'
export { whereItTurns } from './operatingPoint'
export type { LinearMachine, OperatingPoint } from './operatingPoint'
export { bodilessPoint } from './bodilessPoint'
export { designPoint, drivenCoordinates, mechanismPoint } from './mechanismPoint'
export { otherPoints } from './otherPoints'
export type { OtherPoint } from './otherPoints'
export { modalMeasures, modes } from './modes'
export type { BodilessPoint } from './bodilessPoint'
export type { MechanismPoint, PointConditions } from './mechanismPoint'
export type { ModalMeasure, Mode } from './modes'
export { stopProblems, stops, stopsOf } from './stops'
export { lawLookup } from './laws/formulas'
export * from './estimators'
export { linearEyes } from './linearSensors'
