import type { CellStyle } from '../../style/cell-style.js'

/** Of each look that of its sign; forgotten with the look. */
const signs = new WeakMap<CellStyle, CellStyle>()

/** The look of the sign beside a cell: its fill and text colour, whatever hides the number. */
export function signLook(look: CellStyle): CellStyle {
  if (look.hide === null && look.weight === null) return look
  let sign = signs.get(look)
  if (sign === undefined) {
    sign = { ...look, hide: null, weight: null }
    signs.set(look, sign)
  }
  return sign
}
