import { appendFileSync, readFileSync } from 'node:fs'
import { afterAll, expect } from 'vitest'

const folder = process.env.MUTANTS_FOLDER!
const active = Number(readFileSync(`${folder}/active`, 'utf8'))
/** A mistake in a loop may never end: its own work is counted, as others may be at work beside it. */
const patienceMicroseconds = active < 0 ? Infinity : 90e6
const reached = new Set<number>()
const began = Date.now()
const worked = process.cpuUsage().user
let calls = 0

Object.assign(globalThis, {
  $mutant: (id: number) => {
    reached.add(id)
    return id === active
  },
  $alive: () => {
    if (++calls % 65_536 === 0 && process.cpuUsage().user - worked > patienceMicroseconds) throw new Error('This runs for ever.')
    return true
  },
})

// written for each file: then each has a process of its own
if (active < 0)
  afterAll(() => {
    const file = expect.getState().testPath
    appendFileSync(`${folder}/reached`, `${JSON.stringify({ file, reached: [...reached], ms: Date.now() - began })}\n`)
  })
