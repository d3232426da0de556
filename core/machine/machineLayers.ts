import { partsIn, rememberedOf } from '../document'
import type { Part } from '../document'
import { findKind } from '../kinds'
import { bodilessForm, isBodiless } from './bodiless'
import { effects } from './effects'
import { layerOrder } from './effects/effect'
import type { MechanismLayer, MechanismLayerName, MechanismLayers } from './effects/effect'
import { driveLimits } from './effects/sharedLayers'
import { isGrounded } from './isGrounded'
import { effectParts, sensorParts } from './mechanismMotion'
import { surroundings } from './surroundings'

const sensorErrors: MechanismLayer = {
  ...{ name: 'sensorErrors', label: 'Sensor errors', standIn: 'sensors read true values at once', inDesign: false },
}

const said = [sensorErrors, ...[...effects, ...surroundings].flatMap(({ layers }) => layers ?? [])]

/** All layers that machines can have, each as the first kind says it. */
export const mechanismLayers: readonly MechanismLayer[] = layerOrder.map((name) => said.find((layer) => layer.name === name)!)
export const fullMechanism: MechanismLayers = new Set(layerOrder)
export const designMechanism: MechanismLayers = new Set(
  mechanismLayers.filter(({ inDesign }) => inDesign).map(({ name }) => name),
)

/** By machine, which nobody changes in place: pages ask at every look. */
const known = new WeakMap<Part, Map<string, readonly MechanismLayer[]>>()

/** Layers that matter to a machine: those that some part of it has. */
export function layersOf(machine: Part): readonly MechanismLayer[] {
  return rememberedOf(known, machine, '', () => {
    const names = isBodiless(machine) ? limitsOf(machine) : namesOf(machine)
    return mechanismLayers.filter(({ name }) => names.has(name))
  })
}

/** Whether what moves it may change from one moment to the next, in a formula, a table, at a stop or where chains close. */
export function isSudden(machine: Part): boolean {
  if (isBodiless(machine) || Object.keys(partsIn(machine.chains)).length > 0) return true
  return effectParts(machine).some(({ kind }) => kind.isSudden)
}

function namesOf(machine: Part): ReadonlySet<MechanismLayerName> {
  const outside = Object.values(partsIn(machine.surroundings))
  const parts = [...effectParts(machine), ...outside.map((part) => ({ part, kind: findKind(surroundings, part) }))]
  const around = { hasGround: isGrounded(machine) }
  const own = parts.flatMap(({ part, kind }) =>
    (kind?.layers ?? []).filter(({ matters }) => matters?.(part, around) !== false).map(({ name }) => name),
  )
  return new Set([...own, ...(sensorParts(machine).length > 0 ? [sensorErrors.name] : [])])
}

/** Without bodies it is limits of what is asked, where there are any. */
function limitsOf(machine: Part): ReadonlySet<MechanismLayerName> {
  const inputs = partsIn(machine.inputs)
  const isLimited = bodilessForm(machine).inputs.some(({ name }) => {
    const input = inputs[name]
    return input?.least !== undefined || input?.most !== undefined
  })
  return new Set(isLimited ? [driveLimits.name] : [])
}
