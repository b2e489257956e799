import {
  type Color,
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  parse,
} from 'culori'
import { colorText, type PackedColor } from './color.js'

const difference = differenceCiede2000()
/** Normal vision, then full protanopia, deuteranopia and tritanopia. */
const SIGHTS: readonly ((color: Color) => Color)[] = [
  (color) => color,
  filterDeficiencyProt(1),
  filterDeficiencyDeuter(1),
  filterDeficiencyTrit(1),
]

/**
 * The smallest difference between two colours over all kinds of vision: CIEDE2000 under normal
 * vision, full protanopia, deuteranopia and tritanopia.
 */
export function worstDifference(a: PackedColor, b: PackedColor): number {
  const [one, other] = [a, b].map((color) => parse(colorText(color)) as Color)
  return Math.min(...SIGHTS.map((see) => difference(see(one), see(other))))
}
