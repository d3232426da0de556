// npm run backup -- FILE and npm run restore -- FILE: everything that is kept, in one file, while the app runs or not.
import { spawnSync } from 'node:child_process'
import { existsSync, renameSync, rmSync, statSync } from 'node:fs'
import { resolve } from 'node:path'
import { program } from './database.mjs'
import { stopWith } from './prepare.mjs'
import { addressIn, withDatabase } from './withDatabase.mjs'

const [action, given] = process.argv.slice(2)
if (given === undefined) stopWith(`Name the file: npm run ${action} -- calm-hand.backup`)
const file = resolve(given)

await withDatabase((settings) => {
  const address = new URL(addressIn(settings))
  // the password goes by the environment: others could read an argument
  const env = { ...process.env, PGPASSWORD: decodeURIComponent(address.password) }
  address.password = ''
  const run = (name, words) => {
    const { status, stderr } = spawnSync(program(name), words, { cwd: '/', env, encoding: 'utf8' })
    return status === 0 ? undefined : stderr.trim().split('\n').at(-1)
  }
  if (action === 'backup') {
    const part = `${file}.part`
    const wrong = run('pg_dump', ['--format=custom', '--no-owner', `--dbname=${address.href}`, `--file=${part}`])
    if (wrong !== undefined) {
      rmSync(part, { force: true })
      stopWith(`The backup could not be written: ${wrong}`)
    }
    renameSync(part, file)
    console.log(`Everything is in ${file} (${(statSync(file).size / 1e3).toFixed(0)} kB).`)
    return
  }
  if (!existsSync(file)) stopWith(`There is no file ${file}.`)
  const check = run('pg_restore', ['--list', file])
  if (check !== undefined) stopWith(`${file} is no backup of Calm Hand, or it is damaged: ${check}`)
  // in one transaction: either all of it is there afterwards, or nothing has changed
  const words = [
    '--clean',
    '--if-exists',
    '--no-owner',
    '--single-transaction',
    '--exit-on-error',
    `--dbname=${address.href}`,
    file,
  ]
  const wrong = run('pg_restore', words)
  if (wrong !== undefined) stopWith(`The backup could not be restored, and nothing was changed: ${wrong}`)
  console.log(`What ${file} holds is back. Pages that are open should be loaded again.`)
})
