import type { CellStyle } from '../../style/cell-style.js'

const signs = new Map<CellStyle, CellStyle>()
/** Looks of this many cells are kept. */
const MOST = 5000

/** The look of the sign beside a cell: its fill and text colour, whatever hides the number. */
export function signLook(look: CellStyle): CellStyle {
  if (look.hide === null && look.weight === null) return look
  let sign = signs.get(look)
  if (sign === undefined) {
    sign = { ...look, hide: null, weight: null }
    if (signs.size >= MOST) signs.clear()
    signs.set(look, sign)
  }
  return sign
}
