import { spawnSync } from 'node:child_process'
import { chmodSync, cpSync, mkdtempSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { startTemporaryDatabase } from '../scripts/database.mjs'
import { query } from './tests/served'

const root = join(import.meta.dirname, '..')
const nobody = 65534

/** Runs lines of a script's module as somebody without rights, from a copy that he may read and not write. */
function asNobody(lines: string): { status: number | null; said: string } {
  const folder = mkdtempSync('/var/tmp/calm-hand-prepare-')
  try {
    cpSync(join(root, 'scripts'), join(folder, 'scripts'), { recursive: true })
    chmodSync(folder, 0o755)
    const code = `const prepare = await import(${JSON.stringify(join(folder, 'scripts/prepare.mjs'))}); ${lines}`
    const { status, stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', code], {
      ...{ uid: nobody, gid: nobody, cwd: '/', encoding: 'utf8' },
      env: { PATH: '/usr/bin:/bin' },
    })
    return { status, said: stdout + stderr }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

// only root can become somebody else
describe.skipIf(process.getuid?.() !== 0)('a start by somebody without rights', () => {
  it.each([
    [
      'in a folder that he may not write',
      'prepare.makePrivateFolder()',
      /may not write in .*clone the project into a folder of its own/s,
    ],
    [
      'without a compiler',
      "prepare.installDebian(['gcc', 'libc6-dev'], () => false)",
      /Missing: gcc libc6-dev.*apt-get install -y gcc/s,
    ],
    ['without PostgreSQL', "prepare.installDebian(['postgresql'], () => false)", /Missing: postgresql.*DATABASE_URL/s],
  ])('%s is told what to do', (_what, lines, words) => {
    const { status, said } = asNobody(lines)
    expect(said).toMatch(words)
    expect(said).not.toMatch(/\n\s+at /)
    expect(status).toBe(1)
  })
})

describe('the claim of a clone', () => {
  it("is one process's at a time, and free again when that is killed", async () => {
    const code = `const { claimHouse } = await import(${JSON.stringify(join(root, 'scripts/prepare.mjs'))}); console.log(await claimHouse())`
    const claim = (hold: string) =>
      spawnSync(process.execPath, ['--input-type=module', '-e', `process.chdir('/'); ${code}; ${hold}`], {
        encoding: 'utf8',
      }).stdout.trim()
    // a claim of this test's own: the tests may run beside an app of this clone
    const first = claim('')
    expect(['true', 'false']).toContain(first)
    if (first === 'true') expect(claim('process.kill(process.pid, "SIGKILL")')).toBe('true')
    if (first === 'true') expect(claim('')).toBe('true')
    // while one has it, another does not
    const second = `const { spawnSync } = await import('node:child_process'); console.log(spawnSync(process.execPath, ['--input-type=module', '-e', ${JSON.stringify(code)}], { encoding: 'utf8' }).stdout.trim())`
    expect(claim(second).split('\n').at(-1)).toBe('false')
  })
})

describe('the database', () => {
  it('is left as it is while it runs, and started again once it was killed', async () => {
    const database = await startTemporaryDatabase()
    try {
      const { url } = database
      expect([await database.lives(), await database.restart(), database.url]).toEqual([true, true, url])
      database.kill()
      while (await database.lives()) await new Promise((resolve) => setTimeout(resolve, 50))
      expect(await database.restart()).toBe(true)
      expect(await query(database.url, 'select 1 as one')).toEqual([{ one: 1 }])
    } finally {
      database.stop()
    }
  })
})
