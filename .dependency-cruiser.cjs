/** Layers of the house: arrows point one way, and a folder is entered by its door. */
const order = [
  'expression',
  'algebra',
  'document',
  'formula',
  'kinds',
  'machine',
  'scene',
  'linear',
  'control',
  'tuning',
  'optimal',
  'simulation',
  'letters',
  'study',
  'identification',
  'formats',
]

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'core-stands-alone', severity: 'error', from: { path: '^core/' }, to: { path: '^(web|server|cli)/' } },
    { name: 'server-and-web-apart', severity: 'error', from: { path: '^web/' }, to: { path: '^(server|cli)/' } },
    { name: 'server-without-web', severity: 'error', from: { path: '^(server|cli)/' }, to: { path: '^web/' } },
    ...order.map((folder, i) => ({
      name: `core-order-${folder}`,
      severity: 'error',
      from: { path: `^core/${folder}/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^core/(${['check', 'index.ts', ...order.slice(i + 1)].join('|')})` },
    })),
    ...order.map((folder) => ({
      name: `by-the-door-${folder}`,
      severity: 'error',
      from: { pathNot: `^core/(${folder}/|tests/)` },
      to: { path: `^core/${folder}/(?!index\\.ts)` },
    })),
    {
      name: 'tests-stay-outside',
      severity: 'error',
      from: { pathNot: '(\\.test\\.tsx?$|^core/tests/|^e2e/)' },
      to: { path: '(\\.test\\.tsx?$|^core/tests/)' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(node_modules|dist)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
  },
}
