export interface Config {
  readonly databaseUrl: string
  readonly host: string
  readonly port: number
  /** Folder of the built interface, if it is to be served. */
  readonly webFolder?: string
  /** Names under which the server may be addressed besides loopback. */
  readonly allowedHosts: readonly string[]
  readonly logLevel: string
}

/** Settings from the environment. Listens on loopback only unless told otherwise. */
export function configFrom(environment: Readonly<Record<string, string | undefined>>): Config {
  const databaseUrl = environment.DATABASE_URL
  if (databaseUrl === undefined)
    throw new Error('DATABASE_URL is not set. Start with `npm start`, which sets it, or give the address of a PostgreSQL server.')
  return {
    databaseUrl,
    host: environment.HOST ?? '127.0.0.1',
    port: Number(environment.PORT ?? 4180),
    ...(environment.WEB_FOLDER === undefined ? {} : { webFolder: environment.WEB_FOLDER }),
    allowedHosts: (environment.ALLOWED_HOSTS ?? '').split(',').filter((name) => name !== ''),
    logLevel: environment.LOG_LEVEL ?? 'info',
  }
}
