import { colorText, type PackedColor } from '../../color/color.js'
import { PAPER, PIGMENTS, SOOT } from '../../color/pigments.js'
import { toDark } from '../../color/theme.js'

/** The variables of a theme; the two grays are chosen by contrast: 6.2, and a hairline. */
function tokens(turn: (color: PackedColor) => PackedColor): string {
  const named = { paper: PAPER, soot: SOOT, quiet: 0x586079, hair: 0xdfe4ec, stone: PIGMENTS.stone.body }
  return Object.entries(named)
    .map(([name, color]) => `--${name}:${colorText(turn(color))}`)
    .join(';')
}

/**
 * Variables and style classes of the requested themes, to follow the common style sheet. Print is
 * always light.
 */
export function themed(looks: { light: string; dark: string }, theme: 'auto' | 'light' | 'dark'): string {
  const light = `:root{${tokens((c) => c)};color-scheme:${theme === 'auto' ? 'light dark' : 'light'}}`
  const dark = `:root{${tokens(toDark)};color-scheme:dark}\n${looks.dark}`
  const base = `${light}\n${looks.light}\n`
  if (theme === 'light') return base
  const screen = theme === 'dark' ? '@media screen' : '@media screen and (prefers-color-scheme:dark)'
  return `${base}${screen}{\n${dark}\n}`
}
