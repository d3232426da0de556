import { done, refusedFor } from './problem'
import type { Outcome } from './problem'

/** What a text says as JSON; where it does not, the place that the reader names, and a remedy for whoever gave it. */
export function valueOfJson(text: string, where: string, remedy: string): Outcome<unknown> {
  try {
    return done(JSON.parse(text) as unknown)
  } catch (error) {
    return refusedFor(where, `This is not JSON: ${(error as Error).message}`, remedy)
  }
}
