import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseDocument } from '@calm-hand/core'
import type { Store } from './store/store'

const demoFolder = fileURLToPath(new URL('../demo', import.meta.url))

/** Adds the demo's projects that are not there yet; what a person changed stays. Gives the names added. */
export async function loadDemo(store: Store): Promise<string[]> {
  const added: string[] = []
  for (const file of readdirSync(demoFolder)
    .filter((name) => name.endsWith('.json'))
    .sort()) {
    const id = file.replace('.json', '')
    const parsed = parseDocument(readFileSync(join(demoFolder, file), 'utf8'))
    if (parsed.kind === 'refused')
      throw new Error(`demo/${file}: ${parsed.problems.map(({ where, what }) => `${where}: ${what}`).join(' ')}`)
    if (await store.addProject(id, parsed.value.document, 'Loaded the demo')) added.push(id)
  }
  return added
}
