// A private PostgreSQL cluster on loopback, from Debian's packages. Plain Node, no packages.
import { execFileSync, spawnSync } from 'node:child_process'
import { chownSync, existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync } from 'node:fs'
import { createServer } from 'node:net'
import { dirname, join } from 'node:path'
import { installDebian, privateFolder, stopWith } from './prepare.mjs'

const databaseName = 'calm_hand'

/** Newest installed server's programs, or nothing. */
function programs() {
  const base = '/usr/lib/postgresql'
  if (!existsSync(base)) return undefined
  const newest = readdirSync(base)
    .filter((version) => existsSync(join(base, version, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a))[0]
  return newest === undefined ? undefined : join(base, newest, 'bin')
}

/** The server refuses root: as root it runs as the user that Debian's package made. */
function owner() {
  if (process.getuid?.() !== 0) return {}
  const line = readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((one) => one.startsWith('postgres:'))
  if (line === undefined)
    stopWith("There is no user postgres. Install Debian's package again: apt-get install --reinstall -y postgresql-common")
  const [, , uid, gid] = line.split(':')
  return { uid: Number(uid), gid: Number(gid) }
}

/** A folder that the cluster's owner can reach: a closed home (such as root's) shuts postgres out. */
function clusterFolder(name, who) {
  if (who.uid === undefined) return join(privateFolder, name)
  for (let folder = privateFolder; folder !== '/'; folder = dirname(folder)) {
    if (existsSync(folder) && (statSync(folder).mode & 0o001) === 0) return join('/var/tmp', `calm-hand-${name}`)
  }
  return join(privateFolder, name)
}

async function freePort() {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address()
      probe.close(() => resolve(port))
    })
  })
}

/**
 * Starts the cluster `name`, making it first where it is new, and gives its address. `fast` forgoes safety on power
 * loss: for tests only. `stop` ends it; `wipe` also removes its files.
 */
export async function startDatabase(name, { fast = false } = {}) {
  installDebian(['postgresql'], () => programs() !== undefined)
  const bin = programs()
  const who = owner()
  const folder = clusterFolder(name, who)
  const log = `${folder}.log`
  const options = { ...who, stdio: 'ignore', cwd: '/' }
  if (!existsSync(join(folder, 'PG_VERSION'))) {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    if (who.uid !== undefined) chownSync(folder, who.uid, who.gid)
    const made = spawnSync(join(bin, 'initdb'), ['-D', folder, '-A', 'trust', '--locale=C.UTF-8', '-U', 'calm'], {
      ...who,
      cwd: '/',
      encoding: 'utf8',
    })
    if (made.status !== 0) stopWith(`initdb failed in ${folder}:\n${made.stderr}`)
  }
  let port = runningPort(folder)
  if (port === undefined || !answers(bin, port)) {
    rmSync(join(folder, 'postmaster.pid'), { force: true }) // left by a server that was killed
    port = await freePort()
    const shared = canWriteSharedMemory() ? [] : ['-c dynamic_shared_memory_type=mmap']
    const settings = [
      `-p ${port}`,
      '-c listen_addresses=127.0.0.1',
      "-c unix_socket_directories=''",
      ...shared,
      ...(fast ? ['-c fsync=off', '-c full_page_writes=off'] : []),
    ]
    const logFolder = dirname(log)
    if (who.uid !== undefined && !existsSync(log))
      execFileSync('sh', ['-c', `touch '${log}' && chown ${who.uid}:${who.gid} '${log}'`], { cwd: logFolder })
    const started = spawnSync(join(bin, 'pg_ctl'), ['-D', folder, '-w', '-l', log, '-o', settings.join(' '), 'start'], options)
    if (started.status !== 0) stopWith(`PostgreSQL did not start. Its log: ${log}`)
  }
  const psql = (database, command) =>
    spawnSync(join(bin, 'psql'), ['-h', '127.0.0.1', '-p', String(port), '-U', 'calm', '-d', database, '-Atc', command], {
      ...who,
      cwd: '/',
      encoding: 'utf8',
    })
  if (psql('postgres', `select 1 from pg_database where datname = '${databaseName}'`).stdout.trim() !== '1')
    psql('postgres', `create database ${databaseName}`)
  return {
    url: `postgres://calm@127.0.0.1:${port}/${databaseName}`,
    stop: () => spawnSync(join(bin, 'pg_ctl'), ['-D', folder, '-w', '-m', 'fast', 'stop'], options),
    wipe: () => rmSync(folder, { recursive: true, force: true }),
    /** Starts it again on the same port after `stop`. */
    restart: () =>
      spawnSync(
        join(bin, 'pg_ctl'),
        ['-D', folder, '-w', '-l', log, '-o', `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories=''`, 'start'],
        options,
      ),
  }
}

function runningPort(folder) {
  try {
    const port = Number(readFileSync(join(folder, 'postmaster.pid'), 'utf8').split('\n')[3])
    return port > 0 ? port : undefined
  } catch {
    return undefined
  }
}

/** A real query: after a kill the state files can lie. */
function answers(bin, port) {
  return (
    spawnSync(join(bin, 'psql'), ['-h', '127.0.0.1', '-p', String(port), '-U', 'calm', '-d', 'postgres', '-Atc', 'select 1'], {
      encoding: 'utf8',
      timeout: 3000,
    }).stdout?.trim() === '1'
  )
}

function canWriteSharedMemory() {
  try {
    return (statSync('/dev/shm').mode & 0o002) !== 0
  } catch {
    return false
  }
}
