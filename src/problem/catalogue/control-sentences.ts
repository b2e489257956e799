/**
 * Messages of control totals. They are computed before a page is written, so pages do not carry
 * these sentences.
 */
export const CONTROL_SENTENCES = {
  'not-expected': (p: { what: string; source: string; found: string; expected: string }) =>
    p.what === 'rows'
      ? `${p.source} has ${p.found} rows, and ${p.expected} are expected; the data are others, or the report must be updated`
      : `${p.what} in ${p.source} is ${p.found}, and ${p.expected} is expected; the data are others, or the report must be updated`,
  'note-undated': (p: { count: number; source: string }) =>
    `${p.count} ${p.count === 1 ? 'row' : 'rows'} of ${p.source} ${p.count === 1 ? 'has' : 'have'} no date and ${p.count === 1 ? 'counts' : 'count'} only where the period is all`,
  'note-no-rows': (p: { source: string }) => `${p.source} has no rows`,
} as const satisfies Readonly<Record<string, (params: never) => string>>
