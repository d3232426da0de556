import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/**
 * Builds a printed program with gcc, sets `inputs` into its memory, calls the procedures in turn and gives the
 * first `count` slots afterwards.
 */
export function runC(source: string, inputs: ArrayLike<number>, procedures: readonly string[], count: number): Float64Array {
  const folder = mkdtempSync(join(tmpdir(), 'calm-hand-c-'))
  try {
    const calls = procedures.map((name) => `ch_${name}();`).join(' ')
    const main = `#include <stdio.h>
int main(void) {
  if (fread(m, 8, ${inputs.length}, stdin) != ${inputs.length}) return 1;
  ${calls}
  return fwrite(m, 8, ${count}, stdout) == ${count} ? 0 : 1;
}
`
    writeFileSync(join(folder, 'program.c'), source + main)
    execFileSync('gcc', ['-O1', '-ffp-contract=off', '-w', '-o', join(folder, 'program'), join(folder, 'program.c'), '-lm'])
    const output = execFileSync(join(folder, 'program'), {
      input: new Uint8Array(Float64Array.from(inputs).buffer),
      maxBuffer: 1 << 28,
    })
    return new Float64Array(Uint8Array.from(output).buffer)
  } finally {
    rmSync(folder, { recursive: true })
  }
}
