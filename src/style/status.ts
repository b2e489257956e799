import type { Status } from '../spec/rules.js'

/** The label of a status for readers. */
export function statusLabel(statuses: Readonly<Record<string, Status>>, name: string): string {
  return Object.hasOwn(statuses, name) ? (statuses[name].label ?? name) : name
}
