import type { Document } from '@calm-hand/core/document'
import type { Judged, LoopView } from '../../../compute/loops/loopView'

export interface LookProps {
  readonly document: Document
  readonly loop: string
  readonly view: LoopView
  readonly now: Judged
}
