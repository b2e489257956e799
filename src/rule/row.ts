/** What whole rows go by in a painting. */
export const ROW = '(row)'
