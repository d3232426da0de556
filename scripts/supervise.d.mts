export interface Supervised {
  readonly pid: number
  stop(signal?: string): void
}
export function supervise(
  settings: Record<string, string | undefined>,
  told: { onListening: (port: number) => void; onEnd: (status: number) => void; onAgain?: () => void },
): Promise<Supervised>
