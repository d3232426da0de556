import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { withPage } from './app'

/** s: at about 210 rows a second the record then has 100 000. */
const longRun = 470
/** Signals that are watched, each on an axis of its own. */
const watchedSignals = [
  ...[1, 2, 3, 4, 5, 6].flatMap((i) => [`lamplighter.drives.rotor${i}.thrust`, `lamplighter.drives.rotor${i}.speed`]),
  ...['height', 'climbRate', 'east', 'north', 'heading', 'yawRate', 'eastSpeed', 'northSpeed'].map(
    (loop) => `loops.${loop}.error`,
  ),
]
/** ms that somebody turns the wheel. */
const turningMs = 4_000

export interface WatchingTold {
  /** Frames a second while strips come closer and move on. */
  readonly frames: number
  /** ms from choosing the errand in the list to its charts and its 3D. */
  readonly opening: number
}

/** How fluently twenty signals of a long run are looked at, and how soon an errand of a minute is seen. */
export async function watching(url: string): Promise<WatchingTold> {
  await fetch(`${url}api/projects`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ id: 'longWatch', document: longDocument() }),
  })
  const frames = await withPage(async (page) => {
    await page.goto(`${url}longWatch/trials/galleryRise`)
    await page.getByRole('button', { name: /^Run/ }).click()
    await page.getByTestId('run-state').waitFor({ timeout: 120_000 })
    await page.waitForFunction((count) => document.querySelectorAll('[data-watched] path[data-series]').length >= count, 20)
    return framesWhileTurning(page)
  })
  return { frames, opening: await opening(url) }
}

function longDocument(): unknown {
  const document = JSON.parse(readFileSync('demo/lamplighter.json', 'utf8')) as {
    trials: Record<string, Record<string, unknown>>
  }
  const watch = Object.fromEntries(watchedSignals.map((signal, i) => [`w${i}`, { kind: 'watched', signal }]))
  const trial = { ...document.trials.galleryRise, after: longRun, watch }
  return { ...document, title: 'Long watch', trials: { galleryRise: trial } }
}

/** With Ctrl the wheel comes closer and farther away over a strip, a turn every frame. */
async function framesWhileTurning(page: Page): Promise<number> {
  return page.evaluate(async (forMs) => {
    const plot = [...document.querySelectorAll('[data-watched] svg rect[fill="transparent"]')][0]!
    const { left, width, top } = plot.getBoundingClientRect()
    const began = performance.now()
    let frames = 0
    while (performance.now() - began < forMs) {
      const deltaY = Math.floor(frames / 12) % 2 === 0 ? -1 : 1
      const clientX = left + width * (0.3 + 0.4 * ((frames % 40) / 40))
      plot.dispatchEvent(
        new WheelEvent('wheel', { deltaY, clientX, clientY: top, ctrlKey: true, bubbles: true, cancelable: true }),
      )
      await new Promise(requestAnimationFrame)
      frames++
    }
    return (1000 * frames) / (performance.now() - began)
  }, turningMs)
}

async function opening(url: string): Promise<number> {
  return withPage(async (page) => {
    await page.goto(`${url}lamplighter/trials/galleryDelivery`)
    await page.getByRole('button', { name: /^Run/ }).click()
    await page.getByTestId('run-state').waitFor()
    await page.waitForTimeout(3_000)
    await page.goto(`${url}lamplighter/trials/galleryRise`)
    await page.getByRole('button', { name: 'Gallery delivery' }).waitFor()
    await page.waitForTimeout(2_000)
    const began = Date.now()
    await page.getByRole('button', { name: 'Gallery delivery' }).click()
    await page.waitForFunction(
      () =>
        document.querySelector('[data-strips]:not([data-strips="none"]) path[data-series="actual"]') !== null &&
        location.pathname.endsWith('galleryDelivery') &&
        document.querySelector('canvas') !== null,
    )
    return Date.now() - began
  })
}
