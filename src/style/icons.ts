/**
 * The house icons on a square of 16 units, each with a distinct silhouette. `line` is stroked,
 * `fill` is filled. `words` is for assistive technology if there is no status.
 */
export interface Icon {
  words: string
  line?: string
  fill?: string
}

const SINGLE: Readonly<Record<string, Icon>> = {
  tick: { words: 'tick', line: 'M2.8 8.6 6.4 12.2 13.2 4.2' },
  dash: { words: 'dash', line: 'M3 8h10' },
  cross: { words: 'cross', line: 'M3.8 3.8l8.4 8.4M12.2 3.8l-8.4 8.4' },
  up: { words: 'up', line: 'M8 13.2V3M3.6 7.2 8 2.8l4.4 4.4' },
  sideways: { words: 'sideways', line: 'M2.8 8h10.4M9 3.8 13.2 8 9 12.2' },
  down: { words: 'down', line: 'M8 2.8V13M3.6 8.8 8 13.2l4.4-4.4' },
  dot: { words: 'dot', fill: 'M8 3.6a4.4 4.4 0 1 1 0 8.8a4.4 4.4 0 0 1 0-8.8z' },
  ring: { words: 'ring', line: 'M8 3.2a4.8 4.8 0 1 1 0 9.6a4.8 4.8 0 0 1 0-9.6z' },
  sprig: { words: 'sprig', fill: 'M3 13C2 6 6 2.6 13.4 2.6C13.6 10 10 14 4.8 12.2L8.6 7.6L3.8 12z' },
  drop: { words: 'drop', fill: 'M8 1.8C10.6 5.2 12.4 7.6 12.4 10A4.4 4.4 0 0 1 3.6 10C3.6 7.6 5.4 5.2 8 1.8z' },
}

/**
 * Icon families with any number of steps, from low to high: the silhouette changes with each step,
 * not the colour.
 */
const FAMILIES: Readonly<Record<string, (step: number, of: number) => Icon>> = {
  /** A flower that opens: as many petals as steps reached. */
  petals(step, of) {
    const half = Math.min(0.6, (Math.PI / of) * 0.95)
    const petals = Array.from({ length: step }, (_, k) => {
      const turn = ((k - (step - 1) / 2) * 2 * Math.PI) / of - Math.PI / 2
      const [a, b] = [turn - half, turn + half]
      return `M8 8C${at(8 + 10.4 * Math.cos(a))} ${at(8 + 10.4 * Math.sin(a))} ${at(8 + 10.4 * Math.cos(b))} ${at(8 + 10.4 * Math.sin(b))} 8 8z`
    })
    return { words: `${step} of ${of}`, fill: `M6.4 8a1.6 1.6 0 1 1 3.2 0a1.6 1.6 0 1 1-3.2 0z${petals.join('')}` }
  },
  /** An arrow that turns from straight down to straight up. */
  arrows(step, of) {
    const turn = Math.PI / 2 - (Math.PI * (step - 1)) / (of - 1)
    const point = (along: number, aside: number): string =>
      `${at(8 + along * Math.cos(turn) - aside * Math.sin(turn))} ${at(8 + along * Math.sin(turn) + aside * Math.cos(turn))}`
    const words = step === 1 ? 'down' : step === of ? 'up' : step * 2 === of + 1 ? 'sideways' : `${step} of ${of}`
    return {
      words,
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
    return { words: `${step} of ${of}`, line: `M3.6 14.2h8.8M8 14V${at(top)}${leaves.join('')}` }
  },
}

/** The most steps of a family that stay distinguishable. */
const MOST_STEPS = 9

export const FAMILY_NAMES: readonly string[] = Object.keys(FAMILIES)

/**
 * Icon names for statuses; `bySign` is the arrow by the judged value's sign, `petals-2-of-5` a step
 * of a family.
 */
export const ICON_NAMES: readonly string[] = [
  ...Object.keys(SINGLE),
  'bySign',
  ...FAMILY_NAMES.map((f) => `${f}-2-of-3`),
]

/** The icon of a name; undefined if there is none. */
export function iconNamed(name: string): Icon | undefined {
  if (Object.hasOwn(SINGLE, name)) return SINGLE[name]
  const match = /^([a-z]+)-([1-9])-of-([2-9])$/.exec(name)
  if (match === null || !Object.hasOwn(FAMILIES, match[1])) return undefined
  const [step, of] = [Number(match[2]), Number(match[3])]
  return step <= of && of <= MOST_STEPS ? FAMILIES[match[1]](step, of) : undefined
}

/** The steps of a family, from low to high; undefined for an unknown name or number of steps. */
export function familyIcons(family: string, steps: number): string[] | undefined {
  if (!Object.hasOwn(FAMILIES, family) || steps < 2 || steps > MOST_STEPS) return undefined
  return Array.from({ length: steps }, (_, k) => `${family}-${k + 1}-of-${steps}`)
}

function at(x: number): string {
  return String(Math.round(x * 100) / 100)
}

/** The arrow of a sign. */
export function directionIcon(sign: number): string {
  return sign > 0 ? 'up' : sign < 0 ? 'down' : 'sideways'
}
