import { type DrawStep, MOST_STEPS, SINGLE_NAMES, setFamilies } from './icons.js'

/**
 * Icon families with any number of steps, from low to high: the silhouette changes with each step,
 * not the colour.
 */
const FAMILIES: Readonly<Record<string, DrawStep>> = {
  /** A flower that opens: as many petals as steps reached. */
  petals(step, of) {
    const half = Math.min(0.6, (Math.PI / of) * 0.95)
    const petals = Array.from({ length: step }, (_, k) => {
      const turn = ((k - (step - 1) / 2) * 2 * Math.PI) / of - Math.PI / 2
      const [a, b] = [turn - half, turn + half]
      return `M8 8C${at(8 + 10.4 * Math.cos(a))} ${at(8 + 10.4 * Math.sin(a))} ${at(8 + 10.4 * Math.cos(b))} ${at(8 + 10.4 * Math.sin(b))} 8 8z`
    })
    return { fill: `M6.4 8a1.6 1.6 0 1 1 3.2 0a1.6 1.6 0 1 1-3.2 0z${petals.join('')}` }
  },
  /** An arrow that turns from straight down to straight up. */
  arrows(step, of) {
    const turn = Math.PI / 2 - (Math.PI * (step - 1)) / (of - 1)
    const point = (along: number, aside: number): string =>
      `${at(8 + along * Math.cos(turn) - aside * Math.sin(turn))} ${at(8 + along * Math.sin(turn) + aside * Math.cos(turn))}`
    return {
      line: `M${point(-5.2, 0)} ${point(5.2, 0)}M${point(0.8, -4.4)} ${point(5.2, 0)} ${point(0.8, 4.4)}`,
    }
  },
  /** A stem that grows, with a pair of leaves for each step. */
  stems(step, of) {
    const rise = 11 / of
    const top = 14 - step * rise
    const leaves = Array.from({ length: step }, (_, k) => {
      const y = 14 - (k + 0.5) * rise
      const w = Math.min(3.6, rise * 1.6)
      return `M8 ${at(y)}c${at(-w * 0.4)} ${at(-rise * 0.7)} ${at(-w)} ${at(-rise * 0.6)} ${at(-w * 1.3)} ${at(-rise * 0.4)}M8 ${at(y)}c${at(w * 0.4)} ${at(-rise * 0.7)} ${at(w)} ${at(-rise * 0.6)} ${at(w * 1.3)} ${at(-rise * 0.4)}`
    })
    return { line: `M3.6 14.2h8.8M8 14V${at(top)}${leaves.join('')}` }
  },
}

export const FAMILY_NAMES: readonly string[] = Object.keys(FAMILIES)

/**
 * Icon names for statuses; `bySign` is the arrow by the judged value's sign, `petals-2-of-5` a step
 * of a family.
 */
export const ICON_NAMES: readonly string[] = [...SINGLE_NAMES, 'bySign', ...FAMILY_NAMES.map((f) => `${f}-2-of-3`)]

/** Makes the families known to `iconNamed`. */
export function loadFamilies(): void {
  setFamilies(FAMILIES)
}

/** The steps of a family, from low to high; undefined for an unknown name or number of steps. */
export function familyIcons(family: string, steps: number): string[] | undefined {
  if (!Object.hasOwn(FAMILIES, family) || steps < 2 || steps > MOST_STEPS) return undefined
  return Array.from({ length: steps }, (_, k) => `${family}-${k + 1}-of-${steps}`)
}

function at(x: number): string {
  return String(Math.round(x * 100) / 100)
}
