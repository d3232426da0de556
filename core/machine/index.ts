export { shortName } from './shortNames'
export { askedNames, inputNames, outputNames } from './signalNames'
export {
  bodilessForm,
  bodilessMotion,
  equationOutput,
  signalSensor,
  equationState,
  equations,
  figure,
  fixableNames,
  followed,
  isBodiless,
  matrices,
  nominalSignal,
  nominalState,
  plainInput,
  withRenamedSignal,
} from './bodiless'
export type { BodilessForm, BodilessMotion } from './bodiless'
export { machineKinds } from './machineKinds'
export { mechanism } from './mechanism'
export { bodiesOf, linkedBody } from './linkedBody'
export type { LinkedBody } from './linkedBody'
export { joints } from './joints'
export { turning as turningJoint } from './joints/turning'
export { fileSteps, meshPlaces, missingMeshes, withMeshContent } from './meshPlaces'
export { box, capsule, cylinder, meshShape, shapes, sphere } from './shapes'
export { closeChains, closedPose, moved, poseCloser, unitQuaternions } from './closeChains'
export { chainRowsOf, effectParts, mechanismForm, mechanismMotion, neededEfforts } from './mechanismMotion'
export { coordinateOf } from './world'
export { groundLevel, groundUnder } from './groundUnder'
export { isGrounded } from './isGrounded'
export { expectations, orderExpectation, signExpectation } from './expectation'
export { motion as motionKind, movedCoordinates } from './motion'
export { conditions } from './condition'
export { atPoint, conditionsOf, operatingPointKind, pointNames, runningOf } from './points'
export { fixableOf, motionQuantities, runnableNames, stillIn } from './steady'
export { constant } from './constant'
export { bodiesOn, rehungJoint, turnsOf, withCopy, withRenamedBody } from './rearrange'
export type { MirrorPlane } from './rearrange'
export { originOf, originState, shelfItems, takenFrom, withBodyFrom } from './shelf'
export type { ShelfOrigin, ShelfItem } from './shelf'
export { frameBetween } from './frameBetween'
export { freeBodies, resultant } from './freeBody'
export type { BodyLoad } from './freeBody'
export { inertiaEllipsoid } from './inertiaEllipsoid'
export { hull, supportPolygon } from './support'
export { mechanismSensors } from './mechanismSensors'
export { errorOf, errorPath, samplesLate, sensorsOf } from './mechanismSensors/sensor'
export type { ErrorSlot, Sensor } from './mechanismSensors/sensor'
export { allocations, inputLimits, mostEffort, pushes, spread } from './pushes'
export { readingParts, readings } from './readings'
export { designMechanism, fullMechanism, isSudden, layersOf as layersOfMachine, mechanismLayers } from './machineLayers'
export { batteryNames, sensorParts } from './mechanismMotion'
export { surroundings } from './surroundings'
export type { Light } from './surroundings'
export { outsideOf } from './world'
export { waterAt } from './waterAt'
export { standardAtmosphere } from './atmosphere'
export { chains } from './chains'
export { drives, effects, forces } from './effects'
export { weightlessSpeed } from './tree'
export { assemble, coordinateNames, findSeatAxes, ground, outwardOrder, placedPoint, placement, seatPose } from './assemble'
export {
  biasEfforts,
  bodyPoses,
  byBody,
  effortsLeft,
  energies,
  firstSpeeds,
  forwardDynamics,
  forwardDynamicsDerivatives,
  inverseDynamics,
  pointJacobian,
  massAndCentre,
  massMatrix,
  momentum,
  positionCount,
  positionRates,
  speedCount,
} from './tree'
export type { Assembly, Seat } from './assemble'
export type { BodyForces, Tree, TreeBody, TreeState } from './tree'
export type { Closure } from './closeChains'
export type { InputInfo, MechanismForm, MechanismMotion, ShownSignal } from './mechanismMotion'
export type { EffectKind, MechanismLayer, MechanismLayerName, MechanismLayers } from './effects/effect'
export type { ChainKind, ChainRow } from './chains/chain'
export type { Coordinate, JointKind, JointMotion } from './joints/joint'
export { totalMass } from './totalMass'
export { freshNumbers } from './freshNumbers'
export { constantNames } from './formulaValue'
export { machineFormulaNames, machineProblems } from './machineProblems'
export { composedProperties, placementOf, shapeProperties, shapesProperties } from './solids'
export { looksLikeMillimetres, meshProblems, meshProperties, meshReport, scaledMesh } from './mesh'
export type { MeshPlace } from './meshPlaces'
export type { Mesh, MeshReport } from './mesh'
export type { SolidProperties } from './solidProperties'
export type { FindMesh, Shape } from './shapes'
export { meshTree } from './meshTree'
export type { MeshTree } from './meshTree'
export { nearestOnTriangle } from './nearestOnTriangle'
export type { NearestOnTriangle } from './nearestOnTriangle'
export type { Surface } from './solidSurface'
export type { Looking } from './world'
export {
  designLayers,
  effectInputs,
  findHeld,
  unitFixed,
  findPush,
  measuringSensors,
  sensorSignals,
  heldQuantities,
  pushesOf,
  trialLayers,
} from './loopSide'
export { softwareLayers } from './softwareLayers'
export type { AnyLayer, MeasuringSensor, Push, SensorSignal } from './loopSide'
export { machineNumbers, numbersOf } from './numbers'
export { readVector } from './read'
export type { VectorComponent, AngleSort, HeldQuantity } from './held'
export type { Layer } from './softwareLayers'
export type { StateInfo } from './stateInfo'
export type { Read } from './read'
export { interpolated, piecewise, risingProblemsAt } from './interpolate'
