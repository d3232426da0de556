import { liteAdaptor } from 'mathjax-full/js/adaptors/liteAdaptor.js'
import { RegisterHTMLHandler } from 'mathjax-full/js/handlers/html.js'
import { TeX } from 'mathjax-full/js/input/tex.js'
import 'mathjax-full/js/input/tex/ams/AmsConfiguration.js'
import { mathjax } from 'mathjax-full/js/mathjax.js'
import { SVG } from 'mathjax-full/js/output/svg.js'

const adaptor = liteAdaptor()
RegisterHTMLHandler(adaptor)
const sheet = mathjax.document('', {
  InputJax: new TeX({ packages: ['base', 'ams'] }),
  OutputJax: new SVG({ fontCache: 'none' }),
})

/** LaTeX as an SVG of its own, in the colour of the text around it. Loaded only when mathematics is looked at. */
export function typeset(latex: string): string {
  return adaptor.innerHTML(sheet.convert(latex, { display: true }) as never)
}
