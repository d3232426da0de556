import type { MechanismLayer } from '../effects/effect'

export const windLayer: MechanismLayer = {
  ...{ name: 'gusts', label: 'Wind', standIn: 'the air stands still', inDesign: true },
}
