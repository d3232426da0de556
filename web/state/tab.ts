import { safeSession } from './safeStorage'

const key = 'calm-hand.tab'
const lockOf = (id: string) => `calm-hand.tab.${id}`
/** ms after which a draft of another tab counts as left behind, where the browser does not tell which tabs live. */
const forgottenMs = 10 * 60_000

let own: Promise<string> | undefined
let known: string | undefined

/**
 * The name of this tab. A reload keeps it; a copied tab, which gets a copy of the session, finds it taken and takes another.
 * The lock is held as long as the tab lives.
 */
export function tabId(): Promise<string> {
  own ??= claim(safeSession.getItem(key) ?? crypto.randomUUID())
  return own
}

/** The same where it is known already, as it is once a project is open. */
export function knownTab(): string | undefined {
  return known
}

async function claim(id: string): Promise<string> {
  const free = await hold(id)
  const taken = free ? id : crypto.randomUUID()
  if (!free) await hold(taken)
  safeSession.setItem(key, taken)
  known = taken
  return taken
}

/** Whether the name was free; if so it stays ours. Where there are no locks it is taken for free. */
function hold(id: string): Promise<boolean> {
  if (typeof navigator === 'undefined' || navigator.locks === undefined) return Promise.resolve(true)
  return new Promise((answer) => {
    navigator.locks
      .request(lockOf(id), { ifAvailable: true }, (lock) => {
        answer(lock !== null)
        return lock === null ? undefined : new Promise(() => undefined)
      })
      .catch(() => answer(true))
  })
}

/** Which of these tabs have ended. `at` says when each was last heard of, ms since 1970. */
export async function endedTabs(tabs: readonly { readonly tab: string; readonly at: number }[]): Promise<ReadonlySet<string>> {
  const mine = await tabId()
  const others = tabs.filter(({ tab }) => tab !== mine)
  if (typeof navigator === 'undefined' || navigator.locks === undefined)
    return new Set(others.filter(({ at }) => Date.now() - at > forgottenMs).map(({ tab }) => tab))
  const { held = [] } = await navigator.locks.query()
  const living = new Set(held.map(({ name }) => name))
  return new Set(others.filter(({ tab }) => !living.has(lockOf(tab))).map(({ tab }) => tab))
}
