import { bodyPush } from './bodyPush'
import { mixedPush } from './mixedPush'
import type { PushKind } from './push'

/** In the order people see. */
export const pushes: readonly PushKind[] = [bodyPush, mixedPush]
