// The share of tests in the code, by lines that are not empty.
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './prepare.mjs'

export function shareOfTests() {
  const files = execFileSync('git', ['ls-files', '*.ts', '*.tsx', '*.mjs', '*.js', '*.css'], { cwd: root, encoding: 'utf8' })
    .split('\n')
    .filter(Boolean)
  let [code, tests] = [0, 0]
  for (const file of files) {
    const lines = readFileSync(join(root, file), 'utf8')
      .split('\n')
      .filter((line) => line.trim() !== '').length
    if (/\.test\.|(^|\/)(e2e|tests)\//.test(file)) tests += lines
    else code += lines
  }
  return { code, tests, share: tests / (code + tests) }
}
