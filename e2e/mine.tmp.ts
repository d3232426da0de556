import { chromium } from '@playwright/test'
import playwright from './playwright.config'
const url = 'http://127.0.0.1:4300'
const browser = await chromium.launch(playwright.use!.launchOptions)
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
let page = await context.newPage()
page.setDefaultTimeout(30000)
page.on('console', (m) => m.type() === 'error' && console.log('console:', m.text().slice(0, 200)))
page.on('pageerror', (e) => console.log('pageerror:', e.message))
let n = 20
const shot = async (name: string) => { await page.waitForTimeout(1500); await page.screenshot({ path: `/tmp/shots/${String(++n).padStart(2, '0')}-${name}.png` }) }
const step = async (name: string, f: () => Promise<void>) => { try { await f(); console.log('ok', name) } catch (e) { console.log('FAILED', name, (e as Error).message.slice(0, 400)); await shot('fail-' + name.replace(/\W/g, '')) } }
const command = async (words: string) => { await page.keyboard.press('Control+k'); await page.keyboard.type(words); await page.waitForTimeout(300); await page.keyboard.press('Enter'); await page.waitForTimeout(800) }
await step('trial', async () => { await page.goto(url + '/kelp-arm/trials'); await page.getByRole('button', { name: 'Trial', exact: true }).click(); await page.waitForTimeout(2000); await page.getByRole('button', { name: /^Run/ }).click(); await page.waitForTimeout(5000); await shot('run'); })
await step('dusk', async () => { await command('Day or dusk'); await shot('dusk-trial'); await command('History'); await shot('history') ; for (const t of ['Runs', 'Project']) { await page.getByRole('tab', { name: t }).click(); await shot('kept-' + t) } })
await step('bin', async () => { await page.goto(url); await page.waitForTimeout(1500); await shot('yard') })
await browser.close()
