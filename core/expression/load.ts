import type { WasmModule } from './wasm/print'

export interface LoadedModule {
  /** The program's memory as doubles; taken anew after `reserve`, which may move it. */
  memory(): Float64Array
  /** Makes room for this many slots in all. */
  reserve(slots: number): void
  call(procedure: string): void
}

/** By the very bytes, which a program of the same structure shares: what was made quick while it ran stays quick. */
const compiled = new WeakMap<Uint8Array, WebAssembly.Module>()

/** Compiles and starts a module. Synchronous: meant for workers, servers and tests. */
export function loadModule({ bytes }: Pick<WasmModule, 'bytes'>): LoadedModule {
  let module = compiled.get(bytes)
  if (module === undefined) compiled.set(bytes, (module = new WebAssembly.Module(bytes)))
  const instance = new WebAssembly.Instance(module)
  const memory = instance.exports.memory as WebAssembly.Memory
  return {
    memory: () => new Float64Array(memory.buffer),
    reserve(slots) {
      const missing = slots * 8 - memory.buffer.byteLength
      if (missing > 0) memory.grow(Math.ceil(missing / 65536))
    },
    call(procedure) {
      ;(instance.exports[procedure] as () => void)()
    },
  }
}
