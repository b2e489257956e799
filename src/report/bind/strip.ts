import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import type { ReportSpec } from '../../spec/report.js'
import type { BoundExhibit, StripSource } from '../model/bound.js'

/**
 * The exhibit and measure of `strip: shops.revenue`; undefined where none is written, or it has
 * problems.
 */
export function bindStrip(
  { strip: text, exhibits: written }: ReportSpec,
  exhibits: readonly BoundExhibit[],
  diagnostics: Diagnostics,
): StripSource | 'none' | undefined {
  if (text === undefined || text === 'none') return text
  // An exhibit with problems is not bound.
  if (exhibits.length < written.length) return undefined
  // Names of exhibits may contain dots, those of measures may not.
  const dot = text.lastIndexOf('.')
  const [name, measure] = dot < 0 ? [text, ''] : [text.slice(0, dot), text.slice(dot + 1)]
  const counted = exhibits.filter(({ kind }) => kind !== 'cards' && kind !== 'reading')
  const known = counted.flatMap((exhibit) => exhibit.show.map((shown) => `${exhibit.name}.${shown}`))
  if (counted.some((exhibit) => exhibit.name === name && exhibit.show.includes(measure)))
    return { exhibit: name, measure }
  diagnostics.at('strip').report('unknown-name', { name: text, nearest: nearest(text, known), known })
  return undefined
}
