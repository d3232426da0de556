import { coupled } from './coupled'
import { hinged } from './hinged'
import { meets } from './meets'
import { rod } from './rod'
import type { ChainKind } from './chain'

/** In the order people see. */
export const chains: readonly ChainKind[] = [hinged, meets, rod, coupled]
