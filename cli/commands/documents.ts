import { quantities } from '@calm-hand/core/machine'
import { compile } from '@calm-hand/core/simulation'
import type { Result } from '../output'
import { badFrom, fine } from '../output'
import { readDocument } from '../read'

/** check DOC */
export function check(path: string): Result {
  const found = readDocument(path)
  if (found.kind === 'refused') return badFrom(found)
  const { cautions } = found.value
  const text = ['No problems.', ...cautions.map(({ where, what, remedy }) => `Caution: ${where}: ${what} ${remedy}`)].join('\n')
  return fine({ problems: [], cautions }, text)
}

/** list DOC */
export function list(path: string): Result {
  const found = readDocument(path)
  if (found.kind === 'refused') return badFrom(found)
  const { resolved: document } = found.value
  const [firstTrial] = Object.keys(document.trials)
  const program = firstTrial === undefined ? undefined : compile(document, firstTrial)
  const signals = program?.kind === 'done' ? program.value.columns.map(({ name, unit, role }) => ({ name, unit, role })) : []
  const value = {
    machines: Object.keys(document.machines),
    loops: Object.keys(document.loops),
    trials: Object.keys(document.trials),
    studies: [],
    quantities: quantities.map(({ name, unit }) => ({ name, unit })),
    signals,
  }
  const lines = (['machines', 'loops', 'trials'] as const).map((group) => `${group}: ${value[group].join(', ')}`)
  return fine(
    value,
    [...lines, 'signals:', ...signals.map(({ name, unit, role }) => `  ${name} [${unit || '1'}] ${role}`)].join('\n'),
  )
}
