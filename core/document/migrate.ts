import { done, refusedFor } from './problem'
import type { Outcome } from './problem'

/** The version this program writes. */
export const currentVersion = 1

export interface Migration {
  /** The version it starts from; it leads to the next. */
  readonly from: number
  readonly name: string
  readonly apply: (document: Record<string, unknown>) => Record<string, unknown>
}

/** Landed migrations are never edited; each has a test with an old document. */
export const migrations: readonly Migration[] = []

/** Brings an older document to the present version. A newer one is refused: what it means is unknown here. */
export function migrate(
  document: Record<string, unknown>,
  steps: readonly Migration[] = migrations,
  target: number = currentVersion,
): Outcome<Record<string, unknown>> {
  const version = document.version
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    return refusedFor(
      'version',
      `The version is ${JSON.stringify(version)}; it must be a whole number from 1.`,
      `Write "version": ${target}.`,
    )
  }
  if (version > target) {
    const what = `The document has version ${version}; this program knows versions up to ${target}.`
    return refusedFor('version', what, 'Open it with a newer Calm Hand. The file is left as it is.')
  }
  let current = document
  for (let at = version; at < target; at++) {
    const step = steps.find(({ from }) => from === at)
    if (step === undefined)
      return refusedFor('version', `No step leads from version ${at} to ${at + 1}.`, 'Report this as a fault.')
    current = { ...step.apply(current), version: at + 1 }
  }
  return done(current)
}
