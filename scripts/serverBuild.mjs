// The server as plain JavaScript: it starts in a third of the time, and so do its threads. Built once for each state of the sources.
import { existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { privateFolder, root, sourceHash, stopWith } from './prepare.mjs'

const builds = join(privateFolder, 'server')
/** Older ones than the newest so many go: one that still runs keeps its own, as it may load further parts later. */
const keptBuilds = 4

/** Where `main.mjs`, `manage.mjs` and the threads of the server lie, built where they are not yet. */
export async function serverBuild() {
  const built = join(builds, sourceHash(['server', 'core']).slice(0, 16))
  if (existsSync(built)) return built
  try {
    await makeBuild(built)
  } catch (error) {
    if (!/no space left|ENOSPC/i.test(error.message)) throw error
    stopWith(`The disk is full: the server cannot be built in ${builds}. Make room and type the same again; nothing is lost.`)
  }
  forgetOld()
  return built
}

async function makeBuild(built) {
  const { build } = await import('esbuild')
  const { dependencies } = JSON.parse(readFileSync(join(root, 'server', 'package.json'), 'utf8'))
  mkdirSync(builds, { recursive: true })
  const being = mkdtempSync(join(privateFolder, 'server-'))
  try {
    await build({
      entryPoints: ['main.ts', 'manage.ts', ...threads()].map((file) => join(root, 'server', file)),
      ...{ outdir: being, entryNames: '[name]', outExtension: { '.js': '.mjs' }, splitting: true },
      ...{ bundle: true, format: 'esm', platform: 'node', target: 'node20', logLevel: 'silent' },
      // packages stay packages, but those of the core, which have hundreds of small files
      external: Object.keys(dependencies).filter((name) => !name.startsWith('@calm-hand/')),
    })
    renameSync(being, built)
  } catch (error) {
    if (!existsSync(built)) throw error // otherwise another start was quicker
  } finally {
    rmSync(being, { recursive: true, force: true })
  }
}

function threads() {
  return readdirSync(join(root, 'server', 'workers')).map((file) => join('workers', file))
}

function forgetOld() {
  const age = (name) => -statSync(join(builds, name)).mtimeMs
  const names = readdirSync(builds).sort((a, b) => age(a) - age(b))
  for (const name of names.slice(keptBuilds)) rmSync(join(builds, name), { recursive: true, force: true })
}
