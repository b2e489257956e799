import { colorText, type PackedColor } from '../color/color.js'
import { SIGHTS, type Sight, seenDifference } from '../color/color-vision.js'
import type { DecidedReport } from '../report/model/answered.js'
import { SINGLE_NAMES } from '../style/icons.js'
import { statusLabel } from '../style/status.js'

/** A status as a swatch shows it. */
export interface StatusLook {
  name: string
  label: string
  /** CSS colours; null where it has none. */
  fill: string | null
  ink: string | null
  icon: string | null
  verdict: string | null
  /**
   * The other status that is nearest by its fill, under each kind of vision, with the CIEDE2000
   * difference; null where no other has a fill.
   */
  nearest: Readonly<Record<Sight, { name: string; difference: number } | null>>
}

/** The statuses, pigments and icons of a report, and those of the house. */
export interface Looks {
  statuses: readonly StatusLook[]
  pigments: readonly { name: string; wash: string; body: string; ink: string; isOwn: boolean }[]
  icons: readonly string[]
}

/** Steps of a family, as one of them is named. */
const FAMILIES = ['petals', 'arrows', 'stems']

/** What swatches and lists of choices show. */
export function looksOf({ report }: DecidedReport, ownPigments: readonly string[]): Looks {
  const { statuses, palette } = report
  const colors = Object.entries(statuses).map(([name, status]) => {
    const pigment = status.wash === undefined ? undefined : palette.pigments[status.wash]
    const fill = pigment?.wash ?? (status.fill === undefined ? undefined : palette.color(status.fill))
    const ink = status.ink === undefined ? pigment?.ink : palette.color(status.ink)
    return { name, status, fill, ink }
  })
  const text = (color: PackedColor | undefined): string | null => (color === undefined ? null : colorText(color))
  return {
    statuses: colors.map(({ name, status, fill, ink }) => ({
      name,
      label: statusLabel(statuses, name),
      fill: text(fill),
      ink: text(ink),
      icon: status.icon ?? null,
      verdict: status.verdict ?? null,
      nearest: Object.fromEntries(
        SIGHTS.map((sight) => {
          let nearest: { name: string; difference: number } | null = null
          for (const other of colors) {
            if (other.name === name || other.fill === undefined || fill === undefined) continue
            const difference = seenDifference(sight, fill, other.fill)
            if (nearest === null || difference < nearest.difference) nearest = { name: other.name, difference }
          }
          return [sight, nearest]
        }),
      ) as unknown as StatusLook['nearest'],
    })),
    pigments: Object.entries(palette.pigments).map(([name, { wash, body, ink }]) => ({
      name,
      wash: colorText(wash),
      body: colorText(body),
      ink: colorText(ink),
      isOwn: ownPigments.includes(name),
    })),
    icons: [...Object.keys(palette.icons), ...SINGLE_NAMES, 'bySign', ...FAMILIES.map((family) => `${family}-1-of-3`)],
  }
}
