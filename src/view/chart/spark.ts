/** The size of a sparkline in a row or card, in pixels. */
export const SPARK = { width: 112, height: 26 }
