import { leastPassphrase, newPassphrase, newToken, slowHash, tokenHash } from './access/secrets'
import { WrongSetting, databaseIn } from './config'
import { resetDemo } from './demo'
import type { Level } from './store/schema'
import { openStore } from './store/store'
import type { Store } from './store/store'
import { startTrouble } from './words'

const tokenDays = 365

const help = `npm run access -- COMMAND
  passphrase full|read [PHRASE]   sets it; without PHRASE one is made and printed once. Ends the sessions it opened.
  close read                      takes the read-only access away
  token NAME full|read            makes a token for scripts, printed once: Authorization: Bearer TOKEN
  tokens                          lists them
  revoke NAME                     ends a token
  sign-out [tokens]               signs everybody out, tokens too where said`

/** Commands about what is kept, run beside the server or without it. */
const commands: Readonly<Record<string, (store: Store, words: readonly string[]) => Promise<string>>> = {
  async 'reset-demo'(store) {
    const back = await resetDemo(store)
    return `The demo is back in its first state: ${back.length} projects. What they were stays in their history; nothing else was touched.`
  },
  async storage(store) {
    await store.keepHouse()
    const { database, meshes, projects } = await store.sizes()
    const rows = projects.map(({ id, binned, document, states, history, runs, records }) => [
      id + (binned ? ' (bin)' : ''),
      kb(document),
      `${states}`,
      kb(history),
      `${runs}`,
      kb(records),
    ])
    const table = [['project', 'document', 'states', 'history', 'runs', 'records'], ...rows]
    const widths = table[0]!.map((_, k) => Math.max(...table.map((row) => row[k]!.length)))
    const line = (row: readonly string[]) =>
      row.map((cell, k) => (k === 0 ? cell.padEnd(widths[k]!) : cell.padStart(widths[k]!))).join('  ')
    return [...table.map(line), '', `${meshes.count} meshes, ${kb(meshes.bytes)}. The whole database has ${kb(database)}.`].join(
      '\n',
    )
  },
  async passphrase(store, [level, given]) {
    if (!isLevel(level)) throw new WrongSetting(help)
    if (given !== undefined && given.length < leastPassphrase)
      throw new WrongSetting(`A passphrase has at least ${leastPassphrase} letters; this one has ${given.length}.`)
    const phrase = given ?? newPassphrase()
    await store.setPassphrase(level, await slowHash(phrase))
    return given === undefined
      ? `The passphrase for ${words[level]}, printed this once:\n\n    ${phrase}\n`
      : 'The passphrase is set.'
  },
  async close(store, [level]) {
    if (level !== 'read') throw new WrongSetting(help)
    await store.dropPassphrase(level)
    return 'The read-only access is closed.'
  },
  async token(store, [label, level]) {
    if (label === undefined || !/^[\w-]{1,60}$/.test(label) || !isLevel(level)) throw new WrongSetting(help)
    const token = newToken()
    await store.dropToken(label)
    await store.addSession({ hash: tokenHash(token), level, label, expiresAt: new Date(Date.now() + tokenDays * 86_400_000) })
    return `The token ${label} for ${words[level]}, printed this once, good for a year:\n\n    ${token}\n`
  },
  async tokens(store) {
    const all = await store.tokens()
    return all.length === 0
      ? 'There are no tokens.'
      : all.map(({ label, level, expiresAt }) => `${label}  ${level}  until ${expiresAt.toISOString()}`).join('\n')
  },
  async revoke(store, [label]) {
    if (label === undefined) throw new WrongSetting(help)
    return (await store.dropToken(label)) ? `The token ${label} is ended.` : `There is no token ${label}.`
  },
  async 'sign-out'(store, [what]) {
    await store.dropSessions({ tokens: what === 'tokens' })
    return 'Everybody is signed out.'
  },
}

const words: Readonly<Record<Level, string>> = { full: 'full access', read: 'reading only' }

function isLevel(word: string | undefined): word is Level {
  return word === 'full' || word === 'read'
}

function kb(bytes: number): string {
  return bytes < 1e6 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`
}

try {
  const [name = '', ...rest] = process.argv.slice(2)
  const command = Object.hasOwn(commands, name) ? commands[name] : undefined
  if (command === undefined) throw new WrongSetting(help)
  const store = openStore(databaseIn(process.env))
  await store.migrate()
  console.log(await command(store, rest))
  await store.close()
} catch (error) {
  console.error(error instanceof WrongSetting ? error.message : (startTrouble(error)?.words ?? error))
  process.exit(1)
}
