export { readings } from './list'
export type { ReadingKind, View } from './reading'
export { readSignals, readingParts } from './values'
export type { ReadSignal } from './values'
