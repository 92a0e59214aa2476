/** A chance deviation of so many times the scatter is out of the question in hours of blocks. */
export const SCATTERS = 6;
/** Gaps of a bouncing contact are one opening, s. */
export const JOIN_S = 0.03;
/** Share of the volts that no load takes from a feed that still feeds it. */
export const CUT_OFF_SHARE = 0.4;
