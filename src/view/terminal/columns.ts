/** The width of a text in terminal columns: wide characters take two, combining marks none. */
export function widthOf(text: string): number {
  if (SINGLE.test(text)) return text.length
  let width = 0
  for (const { segment } of SEGMENTS.segment(text)) width += WIDE.test(segment) ? 2 : ZERO.test(segment) ? 0 : 1
  return width
}

/**
 * Latin letters, digits and signs take one column each; splitting a text into graphemes takes fifty
 * times as long.
 */
const SINGLE = /^[\x20-\x7e\xa0-\xac\xae-\u02ff€…–—−×·•]*$/
const SEGMENTS = new Intl.Segmenter('en', { granularity: 'grapheme' })
/** East Asian wide and fullwidth characters (UAX #11), and pictures. */
const WIDE =
  /^[\u1100-\u115f\u2e80-\u303e\u3041-\u33ff\u3400-\u4dbf\u4e00-\u9fff\ua000-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f\uff00-\uff60\uffe0-\uffe6]|^\p{Extended_Pictographic}\ufe0f|^[\u{1f300}-\u{1faff}\u{20000}-\u{3fffd}]/u
const ZERO = /^[\p{Mn}\p{Me}\p{Cf}]+$/u

export function padEnd(text: string, width: number): string {
  return text + ' '.repeat(Math.max(0, width - widthOf(text)))
}

export function padStart(text: string, width: number): string {
  return ' '.repeat(Math.max(0, width - widthOf(text))) + text
}

/**
 * Text wrapped at spaces to so many columns; a longer word keeps a line of its own. `first` and
 * `indent` begin its lines.
 */
export function wrap(text: string, width: number, first = '', indent = first): string[] {
  const lines: string[] = []
  let line = ''
  for (const word of text.split(' ')) {
    const next = line === '' ? word : `${line} ${word}`
    const lead = lines.length > 0 ? indent : first
    if (line !== '' && widthOf(next) > width - widthOf(lead)) {
      lines.push(lead + line)
      line = word
    } else line = next
  }
  if (line !== '' || lines.length === 0) lines.push((lines.length > 0 ? indent : first) + line)
  return lines
}

/** Rows of cells in aligned columns, two spaces apart; `right` are the right-aligned ones. */
export function table(rows: readonly (readonly string[])[], right: ReadonlySet<number>): string[][] {
  const widths: number[] = []
  for (const row of rows) for (const [c, cell] of row.entries()) widths[c] = Math.max(widths[c] ?? 0, widthOf(cell))
  return rows.map((row) => row.map((cell, c) => (right.has(c) ? padStart(cell, widths[c]) : padEnd(cell, widths[c]))))
}
