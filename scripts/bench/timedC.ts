import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { printC } from '@calm-hand/core/expression'
import type { Code } from '@calm-hand/core/expression'

interface TimedRuns {
  /** Doubles behind the slots of the code. */
  readonly more: number
  /** Statements of C before each run, not timed. */
  readonly before: string
}

/** A program that runs compiled code as often as its first argument says and prints the least time of one run in ms. */
export function timedC(code: Code, { more, before }: TimedRuns, flags: string): string {
  const bin = join(mkdtempSync(join(tmpdir(), 'calm-hand-bench-')), 'program')
  const main = `
#include <stdio.h>
#include <stdlib.h>
#include <time.h>
int main(int argc, char **argv) {
  double best = 1e9;
  for (int k = 0; k < atoi(argv[1]); k++) {
    ${before}
    struct timespec a, b;
    clock_gettime(CLOCK_MONOTONIC, &a);
    ch_run();
    clock_gettime(CLOCK_MONOTONIC, &b);
    double t = (b.tv_sec - a.tv_sec) * 1e3 + (b.tv_nsec - a.tv_nsec) * 1e-6;
    if (t < best) best = t;
  }
  printf("%.6f", best);
}
`
  writeFileSync(`${bin}.c`, printC(code, more) + main)
  execFileSync('gcc', [...flags.split(' '), '-ffp-contract=off', '-w', '-o', bin, `${bin}.c`, '-lm'])
  return bin
}
