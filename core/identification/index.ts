export {
  asRun,
  knownRows,
  likelyLate,
  likelySignals,
  likelyMapping,
  measuredOf,
  noiseOf,
  recordLess,
  runAt,
  shiftBetween,
  unitCautions,
  unitSize,
} from './measured'
export type { Measured, Spell } from './measured'
export { isOfWords } from './table'
export type { MeasuredTable, TableColumn } from './table'
export { arx, recursiveArx } from './arx'
export type { ArxFit, ArxOrders } from './arx'
export { correlationOf } from './correlation'
export type { Correlation } from './correlation'
export { histogramOf } from './histogram'
export type { Histogram } from './histogram'
export { coherenceOf, spectrumOf } from './spectrum'
export type { Coherence, Spectrum, SpectrumChoices } from './spectrum'
export { recordAccount, slopesOfCandidates } from './account'
export type { AccountedSignal, Mate, NumberShare, RecordAccount } from './account'
export { benchOf, bestLate, fitNumbers } from './fit'
export type { Bench, Fit, FitAsked, FitSignal, Values } from './fit'
export { candidatesOf } from './candidates'
export type { Candidate } from './candidates'
export { lookOfLeft } from './whiteness'
export type { LeftLook } from './whiteness'
export { cuesThatSeparate } from './separating'
export type { SeparatingCue, Separation } from './separating'
