import { countOf } from '@calm-hand/core/simulation'
import { momentExactly } from '../../../frame/kept/words'
import type { KeptRun, RunVerdict } from '../../../state/server'
import { motionUnit, withUnit } from '../../../units'

/** Why a run stays; nothing where it may go by the rule. */
export function staysBecause(run: KeptRun, pinned: ReadonlyMap<string, string>, newest: ReadonlySet<string>): string | undefined {
  const letter = pinned.get(run.hash)
  if (letter !== undefined) return `pinned as ${letter}`
  if (run.name !== null) return 'it has a name'
  return newest.has(run.hash) ? 'it is the last of its trial' : undefined
}

/** The newest run of each trial, by hash. */
export function newestOfEach(runs: readonly KeptRun[]): ReadonlySet<string> {
  const newest = new Map<string, KeptRun>()
  for (const run of runs) {
    const known = newest.get(run.trial)
    if (known === undefined || run.madeAt > known.madeAt) newest.set(run.trial, run)
  }
  return new Set([...newest.values()].map(({ hash }) => hash))
}

/** How its checks came out, in a few words. */
export function verdictWords({ verdicts }: Pick<KeptRun, 'verdicts'>): string {
  if (verdicts === null || verdicts.length === 0) return 'no verdict'
  const { held, failed, all } = countOf(verdicts)
  return failed > 0 ? `${failed} of ${all} fail` : held === all ? `${all} of ${all} hold` : `${held} of ${all} hold, others open`
}

/** Runs that have every word somewhere: in trial, name, tags, note, verdict or date. The newest first. */
export function foundRuns(runs: readonly KeptRun[], asked: string, titleOf: (trial: string) => string): readonly KeptRun[] {
  const words = asked
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== '')
  return [...runs]
    .sort((a, b) => (a.madeAt < b.madeAt ? 1 : -1))
    .filter((run) => {
      const text = [
        titleOf(run.trial),
        run.name ?? '',
        run.tags,
        run.note,
        verdictWords(run),
        momentExactly(run.madeAt),
        run.hash,
      ]
      const whole = text.join(' ').toLowerCase()
      return words.every((word) => whole.includes(word))
    })
}

/** How far a check was from failing, or by how much it failed. */
export function marginWords({ margin, unit = '' }: RunVerdict): string {
  return margin === undefined ? '' : `${margin >= 0 ? '+' : ''}${withUnit(margin, motionUnit(unit), 3)}`
}
