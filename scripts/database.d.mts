interface Database {
  /** The file that tells the address, password and all; only its owner can read it. */
  readonly addressFile: string
  readonly url: string
  stop(): void
  kill(): void
  restart(): Promise<boolean>
  lives(): Promise<boolean>
}
export function startDatabase(name?: string): Promise<Database>
export function startTemporaryDatabase(): Promise<Database & { readonly halt: () => void }>
export function keepUp(database: Pick<Database, 'lives' | 'restart'>, say?: (words: string) => void): () => void
