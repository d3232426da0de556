export { equationsInLetters } from './equationsInLetters'
export { linearInLetters, transferInLetters } from './linearInLetters'
export { mechanismInLetters } from './mechanismInLetters'
export type { Letters, Naming } from './mechanismInLetters'
