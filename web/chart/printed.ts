import { onPaper } from '../state/paper'
import { drawnRows, isRising, valuesOver } from './decimate'
import { niceDomain, niceTicks } from './scales'
import { strokeOf } from './series'
import type { Series } from './series'

/** One chart of several that stand below one another over the same x. */
export interface PrintedPanel {
  readonly label: string
  readonly series: readonly Series[]
}

export interface PrintedChoices {
  /** mm */
  readonly width: number
  readonly height: number
  readonly decimal: 'point' | 'comma'
  /** Colour of a name of the theme, such as `--kelp`. */
  readonly colour: (name: string) => string
}

/** mm: letters of 8 points, and what stands around a plot. */
const letter = 2.82
const [left, right, top, below] = [14, 3, 2, 8]
/** Points of a curve for each mm: twice as fine as the eye sees in print. */
const pointsAMm = 12
/** mm for each point (1/96 inch) of a stroke on screen: hairlines stay hairlines. */
const strokeMm = 0.2

/** Charts as SVG for a page: sizes in mm, letters of 8 points, nothing that is not in the file itself. */
export function printedChart(
  panels: readonly PrintedPanel[],
  xLabel: string,
  choices: PrintedChoices,
  xDomain?: readonly [number, number],
): string {
  const { width, height, decimal, colour } = choices
  const xs = xDomain ?? niceDomain(panels.flatMap(({ series }) => series.map((one) => one.xs)))
  const legend = legendOf(
    panels.flatMap(({ series }) => series),
    width,
    colour,
  )
  const plotWidth = Math.max(width - left - right, 1)
  const each = Math.max((height - legend.height - below) / panels.length, 4)
  const x = (value: number) => left + (plotWidth * (value - xs[0])) / (xs[1] - xs[0])
  const number = (value: number) => plain(value, decimal)
  const drawn = panels.map((panel, i) => {
    const from = legend.height + i * each
    const plotHeight = each - top - 3
    const y0 = from + top
    const domain = niceDomain(panel.series.map((one) => valuesOver(one, xs)))
    const y = (value: number) => y0 + plotHeight * (1 - (value - domain[0]) / (domain[1] - domain[0]))
    const isLast = i === panels.length - 1
    const xTicks = niceTicks(...xs, Math.max(2, Math.floor(plotWidth / 16)))
    const yTicks = niceTicks(...domain, Math.max(2, Math.floor(plotHeight / 7)))
    const line = (x1: number, y1: number, x2: number, y2: number, name: string) =>
      `<line x1="${mm(x1)}" y1="${mm(y1)}" x2="${mm(x2)}" y2="${mm(y2)}" stroke="${colour(name)}" stroke-width="0.15"/>`
    return [
      `<clipPath id="plot${i}"><rect x="${left}" y="${mm(y0)}" width="${mm(plotWidth)}" height="${mm(plotHeight)}"/></clipPath>`,
      ...xTicks.map((t) => line(x(t), y0, x(t), y0 + plotHeight, '--line')),
      ...yTicks.map((t) => line(left, y(t), left + plotWidth, y(t), '--line')),
      ...panel.series.map((one) => `<g clip-path="url(#plot${i})">${curve(one, x, y, plotWidth, xs, colour)}</g>`),
      ...yTicks.map((t) => text(left - 1.2, y(t) + letter * 0.35, number(t), 'end', colour)),
      text(3, y0 + plotHeight / 2, panel.label, 'middle', colour, `transform="rotate(-90 3 ${mm(y0 + plotHeight / 2)})"`),
      ...(isLast ? xTicks.map((t) => text(x(t), y0 + plotHeight + letter + 0.8, number(t), 'middle', colour)) : []),
    ].join('\n')
  })
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}" font-family="Instrument Sans Variable, Instrument Sans, Helvetica, Arial, sans-serif" font-size="${letter}">`,
    `<rect width="${width}" height="${height}" fill="#ffffff"/>`,
    legend.drawn,
    ...drawn,
    text(left + plotWidth / 2, height - 1, xLabel, 'middle', colour),
    '</svg>',
  ].join('\n')
}

const mm = (value: number) => value.toFixed(2)

function plain(value: number, decimal: PrintedChoices['decimal']): string {
  const words = String(Number(value.toPrecision(6))).replace('-', '−')
  return decimal === 'comma' ? words.replace('.', ',') : words
}

function text(x: number, y: number, words: string, anchor: string, colour: PrintedChoices['colour'], more = ''): string {
  return `<text x="${mm(x)}" y="${mm(y)}" text-anchor="${anchor}" fill="${colour('--ink')}" ${more}>${escaped(words)}</text>`
}

/** Words as XML has them. */
export function escaped(words: string): string {
  return words.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')
}

function curve(
  one: Series,
  x: (value: number) => number,
  y: (value: number) => number,
  plotWidth: number,
  domain: readonly [number, number],
  colour: PrintedChoices['colour'],
): string {
  const { color, width, dash, shape } = strokeOf(one)
  const stroke = `fill="none" stroke="${colour(color)}" stroke-width="${mm(width * strokeMm)}" stroke-linejoin="round"`
  const rows = drawnRows(one.xs, one.ys, Math.ceil(plotWidth * pointsAMm * (shape === 'dots' ? 0.1 : 1)), domain)
  const stepped = shape === 'steps' && one.isSmooth !== true && isRising(one.xs)
  let d = ''
  let isOpen = true
  for (const row of rows) {
    const [px, py] = [x(one.xs[row]!), y(one.ys[row]!)]
    if (!Number.isFinite(px) || !Number.isFinite(py)) isOpen = true
    else {
      d +=
        shape === 'dots'
          ? `M${mm(px)} ${mm(py)}h0.01`
          : isOpen
            ? `M${mm(px)} ${mm(py)}`
            : stepped
              ? `H${mm(px)}V${mm(py)}`
              : `L${mm(px)} ${mm(py)}`
      isOpen = false
    }
  }
  const dashes = dash === undefined ? '' : ` stroke-dasharray="${dashesIn(dash)}"`
  return `<path d="${d}" ${stroke}${dashes}${shape === 'dots' ? ' stroke-linecap="round"' : ''}/>`
}

function dashesIn(dash: string): string {
  return dash
    .split(' ')
    .map((one) => mm(Number(one) * strokeMm))
    .join(' ')
}

/** mm: a sample of a line, and about how wide a letter is. */
const [sample, letterWidth] = [7, 1.35]

/** Each line once, with its name, in as many rows as it takes. */
function legendOf(series: readonly Series[], width: number, colour: PrintedChoices['colour']) {
  const once = [...new Map(series.map((one) => [`${one.name} ${one.role} ${one.member ?? ''}`, one])).values()]
  let [at, row] = [left, 0]
  const drawn = once.map((one) => {
    const { color, width: wide, dash, shape } = strokeOf(one)
    const needs = sample + 1.5 + one.name.length * letterWidth + 4
    if (at + needs > width && at > left) [at, row] = [left, row + 1]
    const y = 3 + row * 4
    const dashes =
      shape === 'dots'
        ? ' stroke-dasharray="0.02 1" stroke-linecap="round"'
        : dash === undefined
          ? ''
          : ` stroke-dasharray="${dashesIn(dash)}"`
    const line = `<line x1="${mm(at)}" x2="${mm(at + sample)}" y1="${mm(y - 1)}" y2="${mm(y - 1)}" stroke="${colour(color)}" stroke-width="${mm(wide * strokeMm)}"${dashes}/>`
    const words = text(at + sample + 1.5, y, one.name, 'start', colour)
    at += needs
    return line + words
  })
  return { drawn: drawn.join('\n'), height: once.length === 0 ? 0 : 4 * (row + 1) }
}

/** Colours of the day on paper, whatever theme the page has. */
export function paperColours(): PrintedChoices['colour'] {
  const known = onPaper((element) => {
    const style = getComputedStyle(element)
    return new Map(paperNames.map((name) => [name, style.getPropertyValue(name).trim()]))
  })
  return (name) => known.get(name) || '#17242a'
}

const paperNames = [
  '--ink',
  '--mist',
  '--line',
  '--kelp',
  '--slate',
  '--ochre',
  '--plum',
  '--coral',
  '--run-a',
  '--run-b',
  '--run-c',
  '--run-d',
]
