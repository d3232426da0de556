import { remembered } from '../document'
import { fingerprint, printWasm } from '../expression'
import type { Code, WasmModule } from '../expression'

/** Modules of programs made lately: one of other numbers alone is the same program, and is neither printed nor compiled again. */
const modules = new Map<string, WasmModule>()
const mostModules = 32

/** The module of a program, by its structure. */
export function printed(code: Code): WasmModule {
  return remembered(modules, mostModules, fingerprint(code), () => printWasm(code))
}
