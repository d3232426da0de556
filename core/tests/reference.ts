import { readFileSync } from 'node:fs'

/** Reads a reference case. `provenance` says whether the problem was quoted from memory of its source. */
export function reference<Inputs, Expected>(id: string): { inputs: Inputs; expected: Expected; source: string } {
  const text = readFileSync(new URL(`./reference/${id}.json`, import.meta.url), 'utf8')
  return JSON.parse(text) as { inputs: Inputs; expected: Expected; source: string }
}
