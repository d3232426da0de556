import { currentVersion } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'

/** A project of one machine that nothing controls yet. */
export function machineDocument(name: string, machine: Part, about: string): Document {
  return {
    format: 'calm-hand',
    version: currentVersion,
    title: '',
    about,
    note: '',
    up: '+z',
    machines: { [name]: machine },
    estimators: {},
    loops: {},
    trials: {},
    tray: {},
  }
}
