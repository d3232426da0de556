import { download } from '../state/download'
import type { Series } from './series'

/** A chart's SVG as a file of its own: colours of the theme written in, fonts named. */
function standaloneSvg(svg: SVGSVGElement, background: string | undefined): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const { width, height } = svg.getBoundingClientRect()
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.setAttribute('width', String(width))
  copy.setAttribute('height', String(height))
  if (background !== undefined) {
    const back = document.createElementNS('http://www.w3.org/2000/svg', 'rect')
    for (const [name, value] of Object.entries({ width: '100%', height: '100%', fill: background }))
      back.setAttribute(name, value)
    copy.prepend(back)
  }
  const theme = getComputedStyle(document.documentElement)
  return new XMLSerializer()
    .serializeToString(copy)
    .replace(
      /var\((--[a-z0-9-]+)\)/g,
      (_all, name: string) => theme.getPropertyValue(name).trim().replaceAll('"', "'") || 'currentColor',
    )
}

/** A drawing as a picture of so many points; `width` and `height` times `scale`. */
export async function svgToPng(text: string, width: number, height: number, scale: number): Promise<Blob> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = width * scale
  canvas.height = height * scale
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob === null ? reject(new Error('The picture could not be made.')) : resolve(blob)), 'image/png'),
  )
}

/** The theme's colour of paper. */
export function chalk(): string {
  return getComputedStyle(document.documentElement).getPropertyValue('--chalk').trim()
}

/** Offers a drawing as a picture of so many points a pixel, with a background or transparent. */
export async function downloadPng(
  svg: SVGSVGElement,
  name: string,
  scale: number,
  background: string | undefined,
): Promise<void> {
  const { width, height } = svg.getBoundingClientRect()
  download(`${name}.png`, await svgToPng(standaloneSvg(svg, background), width, height, scale))
}

/** Offers a drawing as SVG. */
export function downloadSvg(svg: SVGSVGElement, name: string, background: string | undefined): void {
  download(`${name}.svg`, standaloneSvg(svg, background), 'image/svg+xml')
}

/** Each curve with its own x column, since curves need not share samples: RFC 4180. */
export function seriesToCsv(series: readonly Series[]): string {
  return rowsOfSeries(series, ',', '\r\n')
}

/** The same with tabs between, as spreadsheets take it from a clipboard. */
export function seriesToTable(series: readonly Series[]): string {
  return rowsOfSeries(series, '\t', '\n')
}

function rowsOfSeries(series: readonly Series[], between: string, end: string): string {
  const longest = series.reduce((most, { xs }) => Math.max(most, xs.length), 0)
  const header = series.flatMap(({ name }) => [`${name} x`, name]).join(between)
  const rows = Array.from({ length: longest }, (_, k) => series.flatMap(({ xs, ys }) => [xs[k] ?? '', ys[k] ?? '']).join(between))
  return [header, ...rows, ''].join(end)
}
