import type { Better } from '../table/table.js'
import type { ColumnFacts } from './facts.js'
import type { createNames } from './names.js'
import type { Role } from './roles.js'
import { means } from './words.js'

/** A measure of the starter. */
export interface StarterMeasure {
  name: string
  formula: string
  label: string
  format: string
  better: Better
  /** For a comment: why it is computed like that. */
  because: string
}

export function simple(
  name: string,
  formula: string,
  label: string,
  format: string,
  better: Better,
  because: string,
): StarterMeasure {
  return { name, formula, label, format, better, because }
}

export type Naming = ReturnType<typeof createNames>

/** The columns of some roles, in order. */
export type ByRole = (...kinds: Role[]) => ColumnFacts[]

export function betterOf({ name }: ColumnFacts): Better {
  if (means(name, 'owed') || means(name, 'cost')) return 'lower'
  if (means(name, 'amount') || means(name, 'quantity') || /score|rating|stars|bewertung|puntuacion/i.test(name))
    return 'higher'
  return means(name, 'price') || means(name, 'level') ? 'neither' : 'higher'
}

/** A money, percent or plain format with as many decimals as the size of the values needs. */
export function formatOf(facts: ColumnFacts & { role?: Role }, size = facts.high): string {
  const { percent, currency, whole, high, role } = facts
  if (percent || (role === 'rate' && high <= 1)) return 'percent 1'
  const digits = whole || Math.abs(size) >= 1000 ? 0 : Math.abs(size) >= 20 ? 1 : 2
  return currency === undefined ? `number ${digits}` : `money ${currency} ${digits}`
}
