/**
 * Sum of windowed samples turned against a tone, Σ x·w·e^(−2πi·f·k), k from the stretch's first sample; no trigonometry inside.
 * Even and odd samples turn on two rotors of their own, so that neither waits for the other's last product.
 * @param start of the stretch, which is as long as the window
 * @param cyclesASample the tone's frequency
 */
export function toneSum(
  samples: Float32Array,
  start: number,
  window: Float64Array,
  cyclesASample: number,
): { readonly re: number; readonly im: number } {
  const turn = -2 * Math.PI * cyclesASample;
  const stepRe = Math.cos(2 * turn);
  const stepIm = Math.sin(2 * turn);
  let evenRe = 1;
  let evenIm = 0;
  let oddRe = Math.cos(turn);
  let oddIm = Math.sin(turn);
  let re = 0;
  let im = 0;
  const pairs = window.length & ~1;
  for (let i = 0; i < pairs; i += 2) {
    const even = samples[start + i] * window[i];
    const odd = samples[start + i + 1] * window[i + 1];
    re += even * evenRe + odd * oddRe;
    im += even * evenIm + odd * oddIm;
    const nextEven = evenRe * stepRe - evenIm * stepIm;
    evenIm = evenRe * stepIm + evenIm * stepRe;
    evenRe = nextEven;
    const nextOdd = oddRe * stepRe - oddIm * stepIm;
    oddIm = oddRe * stepIm + oddIm * stepRe;
    oddRe = nextOdd;
  }
  if (pairs < window.length) {
    const last = samples[start + pairs] * window[pairs];
    re += last * evenRe;
    im += last * evenIm;
  }
  return { re, im };
}
