// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { checks, cues, trial as trialKind } from '@calm-hand/core/simulation'
import { demo } from '../../../core/tests/demo'
import { printedChart } from '../../chart'
import { partWords } from '../partWords'
import { reportHtml } from './html'

const lifter = demo('lamplighter')
const said = (kinds: Parameters<typeof partWords>[2], part: Parameters<typeof partWords>[3]) =>
  partWords(lifter, { trial: 'galleryDelivery' }, kinds, part)
const { cues: events, checks: all } = lifter.trials.galleryDelivery as unknown as {
  cues: Record<string, { kind: string }>
  checks: Record<string, { kind: string }>
}

describe('a trial in words', () => {
  it('says cues with units of what they are about, and what they wait for', () => {
    expect(said(cues, events.rise)).toBe('From 1 s, height is asked to rise by 1.8 m over 3 s.')
    expect(said(cues, events.over)).toMatch(
      /^1.5 s after take ?[uU]p .*east travels by -6.4 m, at most 1.1 m\/s fast, 0.6 m\/s² gaining/,
    )
    expect(said(cues, events.takeUp)).toBe('At 6 s, mass of crate of the machine is set to 0.42 kg, coming over 0.4 s.')
    expect(said(cues, events.weak)).toMatch(/rotor 5 loses 22 % of what it gives/)
    expect(said(cues, events.high)).toMatch(/is read 0.045 m too high/)
  })

  it('says limits of checks in the unit of what they limit, and a seed with all its digits', () => {
    const sentences = Object.values(all).map((check) => said(checks, check))
    expect(sentences.find((words) => words?.includes('height error'))).toMatch(/plus or minus 0.75 m/)
    expect(said([trialKind], lifter.trials.galleryDelivery)).toMatch(/seed 20419\.$/)
  })
})

describe('a report', () => {
  const svg = printedChart(
    [{ label: 'height, m', series: [{ name: 'a < b', role: 'actual', xs: [0, 1, 2], ys: [0, 1.5, 1] }] }],
    'time, s',
    { width: 90, height: 60, decimal: 'comma', colour: () => '#123456' },
  )
  const html = reportHtml({
    ...{ title: 'A & B', about: ['First.', '<script>alert(1)</script>'], made: 'today' },
    chapters: [
      {
        title: 'One',
        blocks: [
          { kind: 'table', head: ['x', 'y'], rows: [['<b>', '1 < 2']] },
          { kind: 'drawing', svg, caption: 'first' },
          { kind: 'drawing', svg, caption: 'second' },
        ],
        sections: [{ title: 'Inner', blocks: [{ kind: 'list', title: 'items', items: ['"quoted"'] }] }],
      },
    ],
  })
  const page = new DOMParser().parseFromString(html, 'text/html')

  it('is one file without links and code, and words stay words', () => {
    expect(page.querySelectorAll('a, link, script, iframe')).toHaveLength(0)
    expect(html.match(/(?:src|href)=/g)).toBeNull()
    expect(page.querySelector('h1')!.textContent).toBe('A & B')
    expect(page.body.textContent).toContain('<script>alert(1)</script>')
    expect(page.querySelector('td')!.textContent).toBe('<b>')
    expect(page.querySelector('li')!.textContent).toBe('"quoted"')
  })

  it('holds each drawing with names of its own', () => {
    const ids = [...page.querySelectorAll('[id]')].map(({ id }) => id)
    expect(new Set(ids).size).toBe(ids.length)
    const used = [...html.matchAll(/url\(#([^)]+)\)/g)].map(([, id]) => id)
    expect(used.length).toBeGreaterThan(0)
    expect(used.every((id) => ids.includes(id!))).toBe(true)
  })

  it('has charts of the size that was asked for, with the decimal sign that was asked for', () => {
    const drawing = new DOMParser().parseFromString(svg, 'image/svg+xml').documentElement
    expect(drawing.querySelector('parsererror')).toBeNull()
    expect([drawing.getAttribute('width'), drawing.getAttribute('height')]).toEqual(['90mm', '60mm'])
    const words = [...drawing.querySelectorAll('text')].map(({ textContent }) => textContent)
    expect(words).toContain('0,5')
    expect(words).toContain('a < b')
    expect(words.some((one) => one!.includes('.'))).toBe(false)
    // the curve ends at its last value: 1 of 1.5, on a plot 44 mm high below a legend of 4 mm
    const points = drawing.querySelector('path')!.getAttribute('d')!
    expect(points.match(/[ML]/g)).toHaveLength(3)
  })
})
