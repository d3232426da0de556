import { format } from 'date-fns'

/** A moment as lists of what is kept say it. */
export function moment(at: string): string {
  return format(at, 'd MMM, HH:mm')
}

/** The same where several may fall into one minute. */
export function momentExactly(at: string): string {
  return format(at, 'd MMM, HH:mm:ss')
}

export function sizeInWords(bytes: number): string {
  return bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toPrecision(3)} MB`
}
