import type { MechanismLayer } from './effect'

/** Layers that effects of several kinds have. */
export const viscousFriction: MechanismLayer = {
  ...{ name: 'viscous', label: 'Viscous friction', standIn: 'nothing but air resists a speed', inDesign: true },
}
export const driveLimits: MechanismLayer = {
  ...{ name: 'driveLimits', label: 'Drive limits', standIn: 'any effort is given', inDesign: false },
}
export const driveDynamics: MechanismLayer = {
  ...{ name: 'driveDynamics', label: 'Drive dynamics', standIn: 'drives give what is asked at once', inDesign: true },
}
/** Whatever touches the ground is switched off together. */
export const contactLayer: MechanismLayer = {
  ...{ name: 'contact', label: 'Contact', standIn: 'feet pass through the ground', inDesign: true },
}
