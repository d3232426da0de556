import type { WasmModule } from './wasm/print'

export interface LoadedModule {
  /** The program's memory as doubles; taken anew after `reserve`, which may move it. */
  memory(): Float64Array
  /** Makes room for this many slots in all. */
  reserve(slots: number): void
  call(procedure: string): void
}

/** Compiles and starts a module. Synchronous: meant for workers, servers and tests. */
export function loadModule({ bytes }: Pick<WasmModule, 'bytes'>): LoadedModule {
  const instance = new WebAssembly.Instance(new WebAssembly.Module(bytes))
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
