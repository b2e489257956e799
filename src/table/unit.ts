import type { Unit } from '../expression/unit.js'

/**
 * The unit that a number format states. A plain `number` states none. Texts that are no format
 * state none either.
 */
export function unitOfFormat(format: string): Unit {
  const [kind, currency] = format.trim().split(/\s+/)
  if (kind === 'money') return { is: 'money', currency: currency ?? '' }
  return kind === 'percent' ? { is: 'percent' } : { is: 'none' }
}
