/**
 * The house icons on a square of 16 units, each with a distinct silhouette. `line` is stroked,
 * `fill` is filled.
 */
export interface Icon {
  line?: string
  fill?: string
}

const SINGLE: Readonly<Record<string, Icon>> = {
  tick: { line: 'M2.8 8.6 6.4 12.2 13.2 4.2' },
  dash: { line: 'M3 8h10' },
  cross: { line: 'M3.8 3.8l8.4 8.4M12.2 3.8l-8.4 8.4' },
  up: { line: 'M8 13.2V3M3.6 7.2 8 2.8l4.4 4.4' },
  sideways: { line: 'M2.8 8h10.4M9 3.8 13.2 8 9 12.2' },
  down: { line: 'M8 2.8V13M3.6 8.8 8 13.2l4.4-4.4' },
  dot: { fill: 'M8 3.6a4.4 4.4 0 1 1 0 8.8a4.4 4.4 0 0 1 0-8.8z' },
  ring: { line: 'M8 3.2a4.8 4.8 0 1 1 0 9.6a4.8 4.8 0 0 1 0-9.6z' },
  sprig: { fill: 'M3 13C2 6 6 2.6 13.4 2.6C13.6 10 10 14 4.8 12.2L8.6 7.6L3.8 12z' },
  drop: { fill: 'M8 1.8C10.6 5.2 12.4 7.6 12.4 10A4.4 4.4 0 0 1 3.6 10C3.6 7.6 5.4 5.2 8 1.8z' },
}

/** Draws a step of a family. */
export type DrawStep = (step: number, of: number) => Icon

/** The most steps of a family that stay distinguishable. */
export const MOST_STEPS = 9

/**
 * The families that are loaded. A page without one does not carry their drawings, so they are set
 * where rules are bound, and where a bundle has such an icon.
 */
let families: Readonly<Record<string, DrawStep>> = {}

export function setFamilies(loaded: Readonly<Record<string, DrawStep>>): void {
  families = loaded
}

export const SINGLE_NAMES: readonly string[] = Object.keys(SINGLE)

/** The icon of a name; undefined if there is none. */
export function iconNamed(name: string): Icon | undefined {
  if (Object.hasOwn(SINGLE, name)) return SINGLE[name]
  const match = /^([a-z]+)-([1-9])-of-([2-9])$/.exec(name)
  if (match === null || !Object.hasOwn(families, match[1])) return undefined
  const [step, of] = [Number(match[2]), Number(match[3])]
  return step <= of && of <= MOST_STEPS ? families[match[1]](step, of) : undefined
}

/** The arrow of a sign. */
export function directionIcon(sign: number): string {
  return sign > 0 ? 'up' : sign < 0 ? 'down' : 'sideways'
}
