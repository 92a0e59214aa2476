/** Every n-th value, so that order statistics of long records stay cheap; the stride is odd against hump beats. */
export function thin(values: Float32Array | Float64Array, most: number): Float32Array {
  if (values instanceof Float32Array && values.length <= most) return values;
  const stride = values.length <= most ? 1 : Math.ceil(values.length / most) | 1;
  const few = new Float32Array(Math.floor(values.length / stride));
  for (let i = 0; i < few.length; i++) few[i] = values[i * stride];
  return few;
}
