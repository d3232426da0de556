import { equations, matrices } from './bodiless'
import { floatingBody } from './floatingBodyKind'
import { mechanism } from './mechanism'

/** In the order people see. */
export const machineKinds = [floatingBody, mechanism, matrices, equations]
