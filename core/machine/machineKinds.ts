import { equations, matrices } from './bodiless'
import { mechanism } from './mechanism'

/** In the order people see. */
export const machineKinds = [mechanism, matrices, equations]
