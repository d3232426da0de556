import { readFileSync, writeFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { documentJsonSchema, groups } from '@calm-hand/core'
import { feedforwards, filters, laws, shapers, stops } from '@calm-hand/core/control'
import { tunings } from '@calm-hand/core/tuning'
import { findingRules } from '@calm-hand/core/tuning'
import { referencePage } from '@calm-hand/core/kinds'
import {
  chains,
  drives,
  forces,
  joints,
  linkedBody,
  mechanismSensors,
  shapes,
  surroundings,
  trialLayers,
} from '@calm-hand/core/machine'
import { cues, ends, lanes, override, starts } from '@calm-hand/core/simulation'

const page = new URL('./reference.md', import.meta.url)

/** The reference page, from the kinds themselves. */
function current(): string {
  const parts = [
    '# Reference of kinds',
    'Made from the kinds themselves; `UPDATE_DOCS=1 npx vitest run docs` writes it anew.',
    referencePage('Parameters', groups.parameters),
    referencePage('Machines', groups.machines),
    referencePage('Bodies of a mechanism', [linkedBody, ...shapes]),
    referencePage('Joints', joints),
    referencePage('Chains', chains),
    referencePage('Forces', forces),
    referencePage('Drives', drives),
    referencePage('Sensors of a mechanism', mechanismSensors),
    referencePage('Surroundings', surroundings),
    referencePage('Estimators', groups.estimators),
    referencePage('Loops', [...groups.loops, ...tunings, ...feedforwards]),
    referencePage('Laws', laws),
    referencePage('Around the law', [...filters, ...shapers, ...stops]),
    referencePage('Trials', [...groups.trials, override]),
    ...Object.entries(lanes).map(([lane, label]) =>
      referencePage(
        `Cues: ${label.toLowerCase()}`,
        cues.filter((cue) => cue.lane === lane),
      ),
    ),
    referencePage('What a cue waits for, and what ends it', [...starts, ...ends]),
    [
      '## Findings',
      '',
      'What the words beside a step say, each by its own rule; what makes a loop useless silences the rest.',
      '',
      ...Object.entries(findingRules).map(([name, rule]) => `- \`${name}\` ${rule}`),
    ].join('\n'),
    [
      '## Realism layers',
      '',
      ...trialLayers.map(
        ({ name, label, standIn, inDesign }) =>
          `- \`${name}\` ${label}; off: ${standIn}${inDesign ? '; kept in the design model' : ''}`,
      ),
    ].join('\n'),
  ]
  return `${parts.join('\n\n')}\n`
}

describe('the reference page', () => {
  it('is what the kinds say', () => {
    if (process.env.UPDATE_DOCS === '1') writeFileSync(page, current())
    expect(readFileSync(page, 'utf8')).toBe(current())
  })
})

describe('the published schema of documents', () => {
  it('is what the kinds say', () => {
    const file = new URL('./document.schema.json', import.meta.url)
    const now = `${JSON.stringify(documentJsonSchema(), null, 1)}\n`
    if (process.env.UPDATE_DOCS === '1') writeFileSync(file, now)
    expect(readFileSync(file, 'utf8')).toBe(now)
  })
})

describe('the snippet in scripting.md', () => {
  it('runs', async () => {
    const text = readFileSync(new URL('./scripting.md', import.meta.url), 'utf8')
    const snippet = /```ts\n([\s\S]+?)```/.exec(text)![1]!
    const file = new URL('./scripting.snippet.ts', import.meta.url)
    const logged: unknown[][] = []
    const log = console.log
    console.log = (...words: unknown[]) => logged.push(words)
    try {
      writeFileSync(file, snippet)
      await import(file.href)
    } finally {
      console.log = log
      ;(await import('node:fs')).rmSync(file)
    }
    expect(logged).toHaveLength(3)
    expect(logged[2]![1] as number).toBeLessThan(logged[0]![1] as number)
  })
})
