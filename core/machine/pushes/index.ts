export { allocations } from './allocations'
export { pushes } from './list'
export { pushProblems } from './problems'
export { allocationParts, spread } from './spread'
