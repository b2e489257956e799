/** The size of a small line in a row or card, in pixels. */
export const SPARK = { width: 112, height: 26 }
