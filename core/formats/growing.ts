/** A list of numbers that grows by doubling: what is read from a file is not known beforehand. */
export class Growing {
  private held = new Float64Array(1024)
  length = 0

  push(value: number): void {
    if (this.length === this.held.length) {
      const larger = new Float64Array(2 * this.held.length)
      larger.set(this.held)
      this.held = larger
    }
    this.held[this.length++] = value
  }

  /** A copy of what is in it. */
  values(): Float64Array {
    return this.held.slice(0, this.length)
  }
}
