export { allocate, allocateWithin } from './allocation'
export { axes, findQuantity, quantities } from './quantities'
export { body } from './body'
export { designRealism, fullRealism, layers } from './layers'
export { energyAndMomentum, motion, rotorCount, stateList, trueRange } from './equations'
export { floatingBody } from './floatingBodyKind'
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
export { linkedBody } from './linkedBody'
export { joints } from './joints'
export { turning as turningJoint } from './joints/turning'
export { fileSteps, meshPlaces, missingMeshes, withMeshContent } from './meshPlaces'
export { meshShape, shapes } from './shapes'
export { closeChains, closedPose, moved, poseCloser, unitQuaternions } from './closeChains'
export { chainRowsOf, effectParts, mechanismForm, mechanismMotion, neededEfforts } from './mechanismMotion'
export { coordinateOf } from './world'
export { groundUnder, isGrounded } from './groundUnder'
export { expectations, orderExpectation, signExpectation } from './expectation'
export { motion as motionKind, movedCoordinates } from './motion'
export { conditions } from './condition'
export { atPoint, conditionsOf, operatingPointKind, pointNames, runningOf } from './points'
export { fixableOf, runnableNames, stillIn } from './steady'
export { constant } from './constant'
export { bodiesOn, rehungJoint, turnsOf, withCopy, withRenamedBody } from './rearrange'
export type { MirrorPlane } from './rearrange'
export { originOf, originState, shelfItems, takenFrom, withBodyFrom } from './shelf'
export type { Origin, ShelfItem } from './shelf'
export { frameBetween } from './frameBetween'
export { freeBodies, resultant } from './freeBody'
export type { BodyLoad } from './freeBody'
export { inertiaEllipsoid } from './inertiaEllipsoid'
export { hull, supportPolygon } from './support'
export { mechanismSensors } from './mechanismSensors'
export { errorOf, errorPath, samplesLate } from './mechanismSensors/sensor'
export type { ErrorSlot } from './mechanismSensors/sensor'
export { allocations, mostEffort, pushes, spread } from './pushes'
export { readingParts, readings } from './readings'
export { layersOf as layersOfMachine } from './askedLayers'
export { batteryNames, sensorParts } from './mechanismMotion'
export { surroundings } from './surroundings'
export { standardAtmosphere } from './atmosphere'
export { chains } from './chains'
export { drives, effects, forces } from './effects'
export { designMechanism, fullMechanism, mechanismLayers } from './effects/effect'
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
  jacobianAt,
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
export type { InputInfo, MechanismForm, MechanismMotion } from './mechanismMotion'
export type { EffectKind, MechanismLayer, MechanismLayerName, MechanismLayers } from './effects/effect'
export type { ChainKind, ChainRow } from './chains/chain'
export type { Coordinate, JointKind, JointMotion } from './joints/joint'
export { inertialSensor, positionFixes, rangeFinder, sensors } from './sensors'
export { machineFacts, totalMass } from './facts'
export { freshNumbers } from './freshNumbers'
export { machineProblems } from './machineProblems'
export { composedProperties, shapeProperties, shapesProperties } from './solids'
export { looksLikeMillimetres, meshProblems, meshProperties, meshReport, scaledMesh } from './mesh'
export type { MeshPlace } from './meshPlaces'
export type { Mesh, MeshReport } from './mesh'
export type { SolidProperties } from './solidProperties'
export type { FindMesh } from './solids'
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
  softwareLayers,
  trialLayers,
} from './loopSide'
export type { AnyLayer, MeasuringSensor, Push, SensorSignal } from './loopSide'
export { massProperties } from './massProperties'
export { numbersOf } from './numbers'
export { partNames, readVector } from './read'
export { reachableSpeed, rotorPlaces, rotorRing } from './rotorRing'
export type { VectorComponent, AngleSort, AxisName, HeldQuantity, Quantity } from './quantities'
export type { Layer, LayerName, Layers } from './layers'
export type { MachineFacts } from './facts'
export type { Motion, StateInfo } from './equations'
export type { Read } from './read'
export { interpolated, piecewise, risingProblemsAt } from './interpolate'
