import { toast } from 'sonner'
import type { Document } from '@calm-hand/core/document'
import { answerTo } from '../compute'
import type { Answer, Arguments, Name } from '../compute'

/** An answer that somebody asked for by hand, before all others; nothing where there is none, which is then told. */
export async function askOnce<Of extends Name>(
  name: Of,
  document: Document,
  ...rest: Arguments<Of>
): Promise<Answer<Of> | undefined> {
  try {
    return await answerTo({ name, document, rest, subject: name, lane: 'hand', rank: 0 })
  } catch (error) {
    toast((error as Error).message)
    return undefined
  }
}
