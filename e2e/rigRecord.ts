import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Locator, Page } from '@playwright/test'
import { checkDocument } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
import { compile, findColumn, normalPair, start } from '@calm-hand/core/simulation'
import { expect } from './served'

/** What a rig would have written: centimetres downward, millimetres, half a second missing, its clock late, modes in words. */
export function recordOfRig(): string {
  const parsed = checkDocument(JSON.parse(readFileSync(join(import.meta.dirname, '../demo/lamplighter.json'), 'utf8')))
  const document = (parsed as { readonly value: { readonly resolved: Document } }).value.resolved
  const program = compile(document, 'quayCrossing') as Extract<ReturnType<typeof compile>, { readonly kind: 'done' }>
  const truly = 'true.machines.lamplighter'
  const values = { [`${truly}.bodies.hull.mass`]: 1.82, [`${truly}.forces.drag.linear`]: 0.56 }
  const run = start(program.value).run({ trial: 'quayCrossing', layers: [], seed: document.trials.quayCrossing!.seed, values })
  const [height, east, north] = ['height', 'east', 'north'].map((one) => findColumn(run, `lamplighter.readings.place.${one}`)!)
  const noise = (stream: number, k: number) => 0.012 * (normalPair(7, stream, k)[0] as number)
  const every = Math.round(0.02 / run.time[1]!)
  const rows = [...run.time.keys()].flatMap((k) => {
    const t = run.time[k]!
    if (k % every !== 0 || (t > 5.1 && t < 5.6)) return []
    const [h, e, n] = [height, east, north].map((all, i) => all![k]! + noise(i, k)) as [number, number, number]
    return `${Math.round(1000 * (t + 0.184))};${(-100 * h).toFixed(1)};${Math.round(1000 * e)};${Math.round(1000 * n)};${t < 1 ? 'arm' : 'hold'};${22140 - k}`
  })
  return ['t_ms;alt_dn;px;py;mode;bat_mv', ...rows].join('\r\n').replaceAll('.', ',')
}

export const given = (page: Page, name: string, text: string | Buffer) =>
  page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })

/** Says which signal a column is, and in which unit. */
export async function mapColumn(page: Page, column: string, words: string, unit: string): Promise<Locator> {
  const columns = page.getByRole('table', { name: 'Columns of the file' })
  const row = columns.getByRole('row', { name: new RegExp(`^${column} `) })
  await row.getByRole('button', { name: new RegExp(`^signal of ${column}`) }).click()
  await page.keyboard.type(words)
  await page.keyboard.press('Enter')
  await expect(row).toContainText(words.split('.').at(-1)!)
  await row.getByRole('button', { name: /^unit: / }).click()
  await page.getByRole('textbox', { name: 'unit' }).fill(unit)
  await page.keyboard.press('Enter')
  await expect(row.getByRole('button', { name: `unit: ${unit}` })).toBeVisible()
  return row
}
