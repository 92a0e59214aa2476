/** A number column that grows by doubling while a file streams in; `take` gives the filled part and empties it. */
export class GrowingColumn<T extends Float32Array | Float64Array> {
  length = 0;

  constructor(
    private readonly create: (size: number) => T,
    private values: T = create(16384),
  ) {}

  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = this.create(this.values.length * 2);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.length++] = value;
  }

  take(): T {
    const taken = this.values.slice(0, this.length) as T;
    this.values = this.create(0);
    return taken;
  }
}
