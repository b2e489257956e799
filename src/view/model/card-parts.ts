import type { Card } from '../../page/page.js'

/** The value of a card as it is shown. */
export function cardValue({ cell }: Card): string {
  return cell.text === '' ? 'no value' : cell.text
}

/** The flag of a card, with what its status was if that has changed. */
export function cardFlag({ flag, was }: Card['cell']): string {
  return [flag ?? '', was?.words ?? ''].join(' ').trim()
}

/** The lines under the value of a card: status, flag, change and note, if it has them. */
export function cardLines({
  cell,
  change,
  note,
}: Card): { part: 'status' | 'flag' | 'change' | 'note'; text: string }[] {
  const lines = [
    { part: 'status' as const, text: cell.statusText },
    { part: 'flag' as const, text: cardFlag(cell) },
    { part: 'change' as const, text: change?.text ?? '' },
    { part: 'note' as const, text: note ?? '' },
  ]
  return lines.filter(({ text }) => text !== '')
}
