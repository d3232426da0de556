/** The browser's small storages where they may be used; else what is kept lasts as long as the page. */
function safely(open: () => Storage): Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> {
  const instead = new Map<string, string>()
  const or = <Value>(ask: (storage: Storage) => Value, otherwise: () => Value): Value => {
    try {
      return ask(open())
    } catch {
      return otherwise()
    }
  }
  return {
    getItem: (key) =>
      instead.get(key) ??
      or(
        (storage) => storage.getItem(key),
        () => null,
      ),
    setItem: (key, value) =>
      or(
        (storage) => storage.setItem(key, value),
        () => void instead.set(key, value),
      ),
    removeItem: (key) => {
      instead.delete(key)
      or(
        (storage) => storage.removeItem(key),
        () => undefined,
      )
    },
  }
}

export const safeLocal = safely(() => localStorage)
export const safeSession = safely(() => sessionStorage)
