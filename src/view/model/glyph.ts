import { type CellStyle, iconOf } from '../../style/cell-style.js'

/**
 * A character in place of an icon, for terminals and mails, with an ASCII alternative. An icon of
 * the report has none; its words are printed.
 */
export function glyph(icon: string, ascii = false): string {
  const step = /-(\d)-of-(\d)$/.exec(icon)
  const glyphs = ascii ? PLAIN_GLYPHS : GLYPHS
  if (Object.hasOwn(glyphs, icon)) return glyphs[icon]
  return step === null ? '' : `${step[1]}/${step[2]}`
}

/** The characters of the icons before and after the number of a cell. */
export function glyphsOf(
  { icon, iconAfter, hide }: CellStyle,
  position: 'before' | 'after' | 'alone',
  ascii = false,
): { before: string; after: string } {
  const sign = (name: string | null): string => (name === null || hide === 'icon' ? '' : glyph(name, ascii))
  const [first, second] = [sign(icon), sign(iconAfter)]
  return position === 'after'
    ? { before: '', after: [first, second].filter((one) => one !== '').join(' ') }
    : { before: first, after: second }
}

/** A text without the signs of changed statuses, for terminals without them. */
export function plainSigns(text: string): string {
  return text.replace(/[▼▲◆−]/g, (sign) => ({ '▼': 'v', '▲': '^', '◆': '*' })[sign] ?? '-')
}

/**
 * The words of styles that share a character, or have none: the character does not distinguish
 * them.
 */
export function unclearWords(
  cells: Iterable<{ look: CellStyle; statusText: string }>,
  ascii = false,
): (cell: { look: CellStyle; statusText: string }) => string {
  const words = new Map<string, Set<string>>()
  const signOf = ({ look }: { look: CellStyle }): string => {
    const icon = iconOf(look)
    return icon === null || look.hide === 'icon' ? '' : glyph(icon, ascii)
  }
  for (const cell of cells) {
    if (cell.statusText === '') continue
    const sign = signOf(cell)
    words.set(sign, (words.get(sign) ?? new Set()).add(cell.statusText))
  }
  return (cell) => {
    const sign = signOf(cell)
    // An icon without a status is described by its name.
    if (cell.statusText === '') return sign === '' && cell.look.hide !== 'icon' ? (iconOf(cell.look) ?? '') : ''
    return sign === '' || (words.get(sign)?.size ?? 0) > 1 ? cell.statusText : ''
  }
}

const PLAIN_GLYPHS: Readonly<Record<string, string>> = {
  tick: 'v',
  dash: '-',
  cross: 'x',
  up: '^',
  sideways: '=',
  down: '_',
  dot: 'o',
  ring: 'O',
  sprig: '&',
  drop: '#',
}

const GLYPHS: Readonly<Record<string, string>> = {
  tick: '✓',
  dash: '–',
  cross: '✗',
  up: '↑',
  sideways: '→',
  down: '↓',
  dot: '●',
  ring: '○',
  sprig: '❧',
  drop: '◆',
}
