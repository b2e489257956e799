import { nearest } from '../../../../problem/nearest.js'
import type { CardSpec } from '../../../../spec/exhibits.js'
import { flagNames } from '../../../../style/flag.js'
import type { BoundCard } from '../../../model/bound.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import { type BindKind, bindTrend, checkMeasure, checkVersus } from '../../exhibit-keys.js'

export const bind: BindKind<readonly CardSpec[]> = (cards, context, diagnostics) => {
  const show = new Set<string>()
  const boundCards = cards.map((card, i): BoundCard => {
    const at = diagnostics.at(i)
    checkMeasure(card.show, context, at.at('show'))
    show.add(card.show)
    if (card.versus !== undefined) {
      checkVersus(card.show, card.versus, context, at.at('versus'))
      show.add(card.versus)
    }
    const candidates = [
      'value',
      'status',
      ...context.vocabulary.measures.keys(),
      ...context.vocabulary.parameters.keys(),
    ]
    for (const name of flagNames(card.note ?? '')) {
      if (!candidates.includes(name))
        at.at('note').report('unknown-name', { name, nearest: nearest(name, candidates), known: candidates })
      else if (context.measures.has(name)) show.add(name)
    }
    return {
      measure: card.show,
      label: card.label,
      versus: card.versus,
      note: card.note,
      trend: card.trend && bindTrend(card.trend, card.show, context, at.at('trend')),
    }
  })
  return { ...DEFAULT_PARTS, show: [...show], cards: boundCards }
}
