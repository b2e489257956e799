/**
 * Our own drawings on a square of 16 units, each with a silhouette of its own. `line` is stroked, `fill` is filled.
 * `words` is what assistive technology reads where no status says more.
 */
export interface Icon {
  words: string
  line?: string
  fill?: string
}

export const ICONS: Readonly<Record<string, Icon>> = {
  tick: { words: 'tick', line: 'M2.8 8.6 6.4 12.2 13.2 4.2' },
  dash: { words: 'dash', line: 'M3 8h10' },
  cross: { words: 'cross', line: 'M3.8 3.8l8.4 8.4M12.2 3.8l-8.4 8.4' },
  up: { words: 'up', line: 'M8 13.2V3M3.6 7.2 8 2.8l4.4 4.4' },
  level: { words: 'level', line: 'M2.8 8h10.4M9 3.8 13.2 8 9 12.2' },
  down: { words: 'down', line: 'M8 2.8V13M3.6 8.8 8 13.2l4.4-4.4' },
  dot: { words: 'dot', fill: 'M8 3.6a4.4 4.4 0 1 1 0 8.8a4.4 4.4 0 0 1 0-8.8z' },
  ring: { words: 'ring', line: 'M8 3.2a4.8 4.8 0 1 1 0 9.6a4.8 4.8 0 0 1 0-9.6z' },
  leaf: { words: 'leaf', fill: 'M3 13C2 6 6 2.6 13.4 2.6C13.6 10 10 14 4.8 12.2L8.6 7.6L3.8 12z' },
  drop: { words: 'drop', fill: 'M8 1.8C10.6 5.2 12.4 7.6 12.4 10A4.4 4.4 0 0 1 3.6 10C3.6 7.6 5.4 5.2 8 1.8z' },
}

/** Names a status may use; `direction` is the arrow of the judged value's sign. */
export const ICON_NAMES: readonly string[] = [...Object.keys(ICONS), 'direction']

/** The arrow of a sign. */
export function directionIcon(sign: number): string {
  return sign > 0 ? 'up' : sign < 0 ? 'down' : 'level'
}
