import { done, replaceAt } from '../document'
import type { Document, Outcome, Part } from '../document'
import { checkDocument } from './checkDocument'
import { machineOf } from './parameters'
import { partsOf } from './parts'

/**
 * Makes a machine of a document as it is written anew, with some of the parameters times factors, and every number that is made
 * of them. The document is checked once, for however many machines.
 */
export function machinesWithParameters(
  written: Document,
  machine: string,
): Outcome<(factors: Readonly<Record<string, number>>) => Outcome<Part>> {
  const nominal = checkDocument(written)
  if (nominal.kind === 'refused') return nominal
  const { document, resolved } = nominal.value
  const values = resolved.parameters ?? {}
  const found = partsOf(document)
  return done((factors) => {
    const asked = Object.entries(factors).reduce(
      (now, [name, factor]) => replaceAt(now, `parameters.${name}.value`, (values[name]!.value as number) * factor),
      document,
    )
    return machineOf(asked as unknown as { readonly [field: string]: unknown }, found, machine)
  })
}
