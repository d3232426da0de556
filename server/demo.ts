import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { demoFolder } from './folders'
import type { Store } from './store/store'

/** Adds the demo's projects that are not there yet; what a person changed or put into the bin stays so. Gives the names added. */
export async function loadDemo(store: Store): Promise<string[]> {
  const known = await store.projectNames()
  const added: string[] = []
  for (const id of demoNames().filter((name) => !known.has(name)))
    if (await store.addProject(id, await demoText(id), 'Loaded the demo')) added.push(id)
  return added
}

/**
 * Puts the demo's own projects back to their first state, on top of what is there: that stays in their history. Nothing
 * else is touched. Gives the names put back.
 */
export async function resetDemo(store: Store): Promise<string[]> {
  const names = demoNames()
  for (const id of names) await store.putOnTop(id, await demoText(id), 'Put the demo back')
  return names
}

function demoNames(): string[] {
  return readdirSync(demoFolder)
    .filter((name) => name.endsWith('.json'))
    .map((file) => file.replace('.json', ''))
    .sort()
}

async function demoText(id: string): Promise<string> {
  const { parseDocument } = await import('@calm-hand/core') // only where something is missing: it takes a second
  const parsed = parseDocument(readFileSync(join(demoFolder, `${id}.json`), 'utf8'))
  if (parsed.kind === 'refused')
    throw new Error(`demo/${id}.json: ${parsed.problems.map(({ where, what }) => `${where}: ${what}`).join(' ')}`)
  return JSON.stringify(parsed.value.document)
}
