/** A chance deviation of so many times the scatter is out of the question in hours of blocks. */
export const SCATTERS = 6;
/** Gaps of a bouncing contact are one opening, s. */
export const JOIN_S = 0.03;
