import { floatingBody } from './floatingBodyKind'
import { mechanism } from './mechanism'

/** In the order people see. */
export const machineKinds = [floatingBody, mechanism]
