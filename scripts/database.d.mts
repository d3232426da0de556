export interface RunningDatabase {
  readonly url: string
  readonly stop: () => unknown
  readonly restart: () => unknown
  readonly wipe: () => void
}

export function startDatabase(name: string, options?: { fast?: boolean }): Promise<RunningDatabase>
