/** The name of whole rows in a painting. */
export const ROW = '(row)'
