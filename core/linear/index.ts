export {
  between,
  channel,
  continuousPole,
  continuousPoles,
  frequencyResponse,
  fromPolynomials,
  isStable,
  names,
  poles,
  polynomialFromRoots,
  responseAt,
  steadyGain,
  withOutputs,
  withoutIntegrators,
} from './stateSpace'
export { frequencyGrid, margins, widened } from './margins'
export { inCoordinates, linearize } from './linearize'
export { inWords, listed, short } from './words'
export { balancedReduction } from './balancedReduction'
export type { Reduced } from './balancedReduction'
export { answersAtOnce, movedOutputs, outputCoordinates } from './reduce'
export { behindSamples, delayAsRational, sampledWithDelay } from './delay'
export { heldLonger, lookedAtBefore, resampled, sampledBilinear, sampledWithHold, sampledWithRamp } from './discretize'
export { sampledStep } from './sampledStep'
export { exactStepFigures } from './exactStep'
export type { ExactStepFigures, StepRules } from './exactStep'
export { stepFigures } from './stepFigures'
export { stepResponse } from './stepResponse'
export { unstableClosedPoles } from './encirclements'
export { mostTransferStates, transferFunction } from './transferFunction'
export type { TransferFunction } from './transferFunction'
export type { FigureRules, StepFigures } from './stepFigures'
export type { FrequencyFunction, GainMargin, Margins, PhaseMargin } from './margins'
export type { Response } from './stepResponse'
export type { StateSpace } from './stateSpace'
export { responder } from './responder'
export type { Responder } from './responder'
export { gainsAt, gramians, norms } from './norms'
export {
  channelMargins,
  complexSingularValues,
  inComplexScales,
  remembering,
  sensitivityOf,
  simultaneousMargin,
} from './structured'
export type { MatrixFunction, SimultaneousMargin } from './structured'
export { lyapunov } from './lyapunov'
export { krylovValues, minimalRealization, observable, reachable } from './reachable'
export { observer } from './observer'
export { placePoles } from './placePoles'
export { regulator } from './regulator'
export { riccati } from './riccati'
export { transmissionZeros } from './zeros'
export type { NoiseCovariances, Observer } from './observer'
export type { PlacedPoles } from './placePoles'
export type { Regulator, RegulatorWeights } from './regulator'
