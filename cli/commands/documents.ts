import type { Document } from '@calm-hand/core/document'
import { closeChains, fullMechanism, isBodiless, heldQuantities } from '@calm-hand/core/machine'
import type { FindMesh } from '@calm-hand/core/machine'
import { compile, freeProgram } from '@calm-hand/core/simulation'
import type { Column } from '@calm-hand/core/simulation'
import type { Result } from '../output'
import { badFrom, fine } from '../output'
import { readDocument, readProject } from '../read'

/** check DOC */
export function check(path: string): Result {
  const found = readDocument(path)
  if (found.kind === 'refused') return badFrom(found)
  const { cautions } = found.value
  const text = ['No problems.', ...cautions.map(({ where, what, remedy }) => `Caution: ${where}: ${what} ${remedy}`)].join('\n')
  return fine({ problems: [], cautions }, text)
}

/** list DOC */
export function listDocument(path: string): Result {
  const found = readProject(path)
  if (found.kind === 'refused') return badFrom(found)
  const { checked, findMesh } = found.value
  const { resolved: document } = checked
  const signals = signalsOf(document, findMesh)
  const value = {
    machines: Object.keys(document.machines),
    loops: Object.keys(document.loops),
    trials: Object.keys(document.trials),
    studies: [],
    quantities: Object.entries(document.machines).flatMap(([machine, part]) =>
      heldQuantities(part).map(({ name, label, unit }) => ({ machine, name, label, unit })),
    ),
    signals,
  }
  const lines = (['machines', 'loops', 'trials'] as const).map((group) => `${group}: ${value[group].join(', ')}`)
  return fine(
    value,
    [...lines, 'signals:', ...signals.map(({ name, unit, role }) => `  ${name} [${unit || '1'}] ${role}`)].join('\n'),
  )
}

/** What a run records: of the first trial, or of the machines when they are let go. */
function signalsOf(document: Document, findMesh: FindMesh): Pick<Column, 'name' | 'unit' | 'role'>[] {
  const [firstTrial] = Object.keys(document.trials)
  const program = firstTrial === undefined ? undefined : compile(document, firstTrial, { findMesh })
  const free = Object.values(document.machines).flatMap((machine) => {
    if (isBodiless(machine)) return freeProgram(machine, fullMechanism, []).columns
    const closure = closeChains(machine)
    return closure.kind === 'open' ? [] : freeProgram(machine, fullMechanism, closure.kept).columns
  })
  return [...(program?.kind === 'done' ? program.value.columns : []), ...free].map(({ name, unit, role }) => ({
    name,
    unit,
    role,
  }))
}
