/** The part of values that no axis explains. @param axes orthonormal */
export function beside(values: ArrayLike<number>, axes: readonly Float64Array[]): Float64Array {
  const rest = new Float64Array(values);
  for (const axis of axes) {
    const along = dot(rest, axis);
    for (let i = 0; i < rest.length; i++) rest[i] -= along * axis[i];
  }
  return rest;
}

/** Orthonormal axes of all that the columns together explain (Gram and Schmidt, modified). */
export function axesOf(columns: readonly Float64Array[]): Float64Array[] {
  return columns.reduce<Float64Array[]>((axes, next) => [...axes, unit(beside(next, axes))], []);
}

/** The same direction, of length one. */
export function unit(values: Float64Array): Float64Array {
  const length = Math.sqrt(dot(values, values));
  return values.map((value) => value / length);
}

/** Of one array type only, and even and odd places apart, so that neither sum waits for the other: fits of long records stay fast. */
export function dot(a: Float64Array, b: Float64Array): number {
  const { length } = b;
  let [even, odd] = [0, 0];
  for (let i = 0; i + 1 < length; i += 2) {
    even += a[i] * b[i];
    odd += a[i + 1] * b[i + 1];
  }
  return length % 2 === 0 ? even + odd : even + odd + a[length - 1] * b[length - 1];
}
