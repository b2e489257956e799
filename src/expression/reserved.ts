/** Reserved words of the grammar; none of them can be a name. */
export const RESERVED: ReadonlySet<string> = new Set(
  'and or not in contains is missing if then else of where within true false'.split(' '),
)
