import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseDocument } from '@calm-hand/core'
import type { Store } from './store/store'

const demoFolder = fileURLToPath(new URL('../demo', import.meta.url))

/** Adds the demo's projects that are not there yet; what a person changed or put into the bin stays so. Gives the names added. */
export async function loadDemo(store: Store): Promise<string[]> {
  const added: string[] = []
  for (const { id, text } of demoTexts()) if (await store.addProject(id, text, 'Loaded the demo')) added.push(id)
  return added
}

/**
 * Puts the demo's own projects back to their first state, on top of what is there: that stays in their history. Nothing
 * else is touched. Gives the names put back.
 */
export async function resetDemo(store: Store): Promise<string[]> {
  const texts = demoTexts()
  for (const { id, text } of texts) await store.putOnTop(id, text, 'Put the demo back')
  return texts.map(({ id }) => id)
}

function demoTexts(): { id: string; text: string }[] {
  return readdirSync(demoFolder)
    .filter((name) => name.endsWith('.json'))
    .sort()
    .map((file) => {
      const parsed = parseDocument(readFileSync(join(demoFolder, file), 'utf8'))
      if (parsed.kind === 'refused')
        throw new Error(`demo/${file}: ${parsed.problems.map(({ where, what }) => `${where}: ${what}`).join(' ')}`)
      return { id: file.replace('.json', ''), text: JSON.stringify(parsed.value.document) }
    })
}
