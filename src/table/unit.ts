import type { Unit } from '../expression/unit.js'

/** The unit of a number format. A plain `number` and invalid formats have none. */
export function unitOfFormat(format: string): Unit {
  const [kind, currency] = format.trim().split(/\s+/)
  if (kind === 'money') return { is: 'money', currency: currency ?? '' }
  return kind === 'percent' ? { is: 'percent' } : { is: 'none' }
}
