import { rememberedOf } from '../document'
import type { Part } from '../document'
import { bodilessForm, bodilessMotion, isBodiless } from './bodiless'
import { fullMechanism, mechanismLayers } from './effects/effect'
import type { MechanismLayer, MechanismLayerName } from './effects/effect'
import { mechanismForm, mechanismMotion, sensorParts } from './mechanismMotion'
import { numbersOf } from './numbers'

/** By machine, which nobody changes in place: pages ask at every look. */
const known = new WeakMap<Part, Map<string, readonly MechanismLayer[]>>()

/** Layers that matter to a machine, lifters apart: those that some part of it asks about. */
export function layersOf(machine: Part): readonly MechanismLayer[] {
  return rememberedOf(known, machine, '', () => askedBy(machine))
}

function askedBy(machine: Part): readonly MechanismLayer[] {
  const asked = new AskedLayers(fullMechanism)
  const read = numbersOf(machine)
  if (isBodiless(machine)) {
    const { states, inputs } = bodilessForm(machine)
    bodilessMotion(
      machine,
      read,
      asked,
      states.map(({ atRest }) => atRest),
      inputs.map(({ nominal }) => nominal),
    )
  } else {
    const form = mechanismForm(machine, read)
    const states = form.states.map(({ atRest }) => atRest)
    mechanismMotion(
      machine,
      read,
      asked,
      form,
      states,
      form.inputs.map(() => 0),
      [],
    )
    if (sensorParts(machine).length > 0) asked.has('sensorErrors')
  }
  return mechanismLayers.filter(({ name }) => asked.seen.has(name))
}

/** A set that remembers what it was asked for. */
class AskedLayers extends Set<MechanismLayerName> {
  readonly seen = new Set<MechanismLayerName>()

  override has(layer: MechanismLayerName): boolean {
    this.seen.add(layer)
    return super.has(layer)
  }
}
