import { columnHead, columnsOver } from '@calm-hand/core/simulation'
import type { Column, Record as RunRecord } from '@calm-hand/core/simulation'

/** A record on its way: its rows are handed over as they are, and columns turned where they are read. */
export interface SentRecord extends Omit<RunRecord, 'columns'> {
  readonly columns: readonly Column[]
  readonly rows: Float64Array
}

/** A record that was just made, and what of it is handed over. */
export function sentOf(record: RunRecord): { readonly sent: SentRecord; readonly buffers: ArrayBuffer[] } {
  const sent = { ...record, columns: record.columns.map(columnHead), rows: record.rows! }
  return { sent, buffers: [sent.time.buffer, sent.rows.buffer] as ArrayBuffer[] }
}

export function receivedOf(sent: SentRecord): RunRecord {
  return { ...sent, columns: columnsOver(sent.columns, sent.rows) }
}
