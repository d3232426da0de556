import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { estimators } from '../control'
import { findKind } from '../kinds'
import { expectDone } from '../tests/expectDone'
import { analyse, designLoop, togetherFigures } from '../tuning'
import { compile, limitsHit, start, trialFigures } from './index'

/** Machines to start from that fly: what they hold is read from their own sensors, through an estimator. */
const starters = ['multirotor', 'satellite']

describe.each(starters)('the starter %s', (name) => {
  const file = join(import.meta.dirname, '../../starters', `${name}.json`)
  const { resolved, cautions } = expectDone(checkDocument(JSON.parse(readFileSync(file, 'utf8'))))
  const [machine] = Object.keys(resolved.machines) as [string]
  const [trial] = Object.keys(resolved.trials) as [string]

  it('reads nothing but what is estimated from its sensors', () => {
    expect(cautions).toEqual([])
    expect(Object.values(resolved.loops).map(({ reads }) => reads)).toEqual(Object.keys(resolved.loops).map(() => 'estimated'))
    const estimated = Object.values(resolved.estimators).flatMap((part) =>
      findKind(estimators, part)!.estimates(resolved.machines[machine]!, part),
    )
    for (const { holds } of Object.values(resolved.loops)) if (!/tilt/.test(holds as string)) expect(estimated).toContain(holds)
  })

  it('is stable in every loop, and in all of them together with what they estimate', () => {
    for (const loop of Object.keys(resolved.loops)) {
      const { model, gains } = expectDone(designLoop(resolved, loop))
      const { stable, phaseMargin } = analyse(model, gains)
      expect([loop, stable, phaseMargin! > 0.7]).toEqual([loop, true, true])
    }
    const together = expectDone(togetherFigures(resolved, machine, 'commands'))
    expect(together.stable).toBe(true)
    expect(Math.min(...together.channels.map(({ phaseMargin }) => phaseMargin ?? Infinity))).toBeGreaterThan(0.6)
  })

  it('goes where its cues say as the linear machine predicts, noise and all', () => {
    const record = start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 1 })
    expect(record.ending.kind).toBe('finished')
    expect(limitsHit(resolved, record)).toEqual([])
    const cued = Object.values(resolved.trials[trial]!.cues as Record<string, { loop: string; by: number }>)
    for (const { loop, by } of cued) {
      const { simulated, predicted } = trialFigures(resolved, trial, record)[loop]!
      expect([loop, Math.abs(simulated!.steadyError!) < 0.06 * Math.abs(by)]).toEqual([loop, true])
      expect([loop, Math.abs(simulated!.worst / predicted!.worst - 1) < 0.1]).toEqual([loop, true])
    }
  })
})
