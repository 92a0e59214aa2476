type Values = Float32Array | Float64Array;

/** The part of values that no axis explains. @param axes orthonormal */
export function beside(values: Values, axes: readonly Float64Array[]): Float64Array {
  const rest = Float64Array.from(values);
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

export function dot(a: Values, b: Values): number {
  let sum = 0;
  for (let i = 0; i < b.length; i++) sum += a[i] * b[i];
  return sum;
}
