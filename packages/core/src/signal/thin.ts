/** Every n-th value, so that order statistics of long records stay cheap; the stride is odd against hump beats. */
export function thin(values: Float32Array | Float64Array, most: number): Float32Array {
  if (values instanceof Float32Array && values.length <= most) return values;
  const stride = values.length <= most ? 1 : Math.ceil(values.length / most) | 1;
  return Float32Array.from({ length: Math.floor(values.length / stride) }, (_, i) => values[i * stride]);
}
