import { harmless } from '../../problem/print.js'
import type { RestyledCell } from '../../report/inspect/compare.js'
import type { PhraseContext } from '../../rule/explain/phrases.js'
import { channelText } from '../../rule/explain/why.js'
import { type CellStyle, CHANNELS, type Channel } from '../../style/cell-style.js'
import type { Bar } from '../../style/painting.js'
import { table } from '../../view/terminal/columns.js'
import type { Ink } from '../../view/terminal/ink.js'

/** More cells than this are listed in the data alone. */
const MAX_LISTED = 200

/** The differences between two styles in words, one for each channel. */
function channelChanges(
  { was, is, bars }: RestyledCell,
  facts: PhraseContext,
): { channel: string; before: string | null; after: string | null }[] {
  const text = (look: CellStyle, bar: Bar | null, channel: Channel): string | null => {
    if (look[channel] === null) return null
    if (channel !== 'bar' || bar === null) return channelText(look, channel, facts)
    const percent = (x: number): string => `${Math.round(x * 1000) / 10}%`
    return `${channelText(look, channel, facts)} ${percent(bar.from)} to ${percent(bar.to)}${bar.beyond === undefined ? '' : ' and beyond'}`
  }
  return CHANNELS.flatMap((channel) => {
    const [before, after] = [text(was, bars.was, channel), text(is, bars.is, channel)]
    // Wash, body and ink of a pigment have the same name.
    const same = before === after && was[channel] === is[channel]
    return same || (before === after && channel !== 'fill' && channel !== 'ink') ? [] : [{ channel, before, after }]
  })
}

/** A restyled cell as data: what each of its changed channels was and is. */
export function restyledData(cell: RestyledCell, facts: PhraseContext): object {
  const { exhibit, measure, name, keys, text } = cell
  return { exhibit, measure, name, keys, text, changes: channelChanges(cell, facts) }
}

/** Restyled cells by exhibit and measure, with what changes. */
export function restyledLines(restyled: readonly RestyledCell[], facts: PhraseContext, ink: Ink): string[] {
  const lines: string[] = []
  const groups = new Map<string, RestyledCell[]>()
  for (const cell of restyled) {
    const place = `${cell.exhibit}.${cell.measure}`
    groups.set(place, [...(groups.get(place) ?? []), cell])
  }
  for (const [place, group] of groups) {
    const verb = group.length === 1 ? 'changes' : 'change'
    lines.push('', ink.strong(harmless(`${cellCount(group.length)} of ${place} ${verb} ${changeText(group, facts)}:`)))
    const rows = table(
      group.slice(0, MAX_LISTED).map((cell) => [
        harmless(cell.name),
        harmless(cell.text),
        harmless(
          channelChanges(cell, facts)
            .map(({ channel, before, after }) => `${channel} ${before ?? 'none'} → ${after ?? 'none'}`)
            .join(', '),
        ),
      ]),
      new Set([1]),
    )
    lines.push(...rows.map((row) => `  ${row.join('  ')}`.trimEnd()))
    if (group.length > MAX_LISTED) lines.push(`  … and ${cellCount(group.length - MAX_LISTED)} more; --json lists all`)
  }
  return lines
}

/** A number of cells in words. */
export function cellCount(n: number): string {
  return `${n.toLocaleString('en')} ${n === 1 ? 'cell' : 'cells'}`
}

/** What changes in restyled cells: their colour if nothing else does. */
function changeText(group: readonly RestyledCell[], facts: PhraseContext): string {
  const channels = group.flatMap((cell) => channelChanges(cell, facts).map(({ channel }) => channel))
  if (channels.every((channel) => channel === 'fill' || channel === 'ink')) return 'colour'
  const whose = group.length === 1 ? 'its' : 'their'
  return channels.every((channel) => channel === channels[0]) ? `${whose} ${channels[0]}` : `${whose} style`
}
