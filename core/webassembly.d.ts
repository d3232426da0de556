/** The part of the WebAssembly interface that programs use: core has neither the DOM's types nor Node's. */
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>)
  }
  class Instance {
    constructor(module: Module)
    readonly exports: Record<string, unknown>
  }
  interface Memory {
    readonly buffer: ArrayBuffer
    grow(pages: number): number
  }
}
