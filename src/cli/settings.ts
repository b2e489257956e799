import { type Problem, problem, refuse } from '../problem/problem.js'
import type { Settings } from '../report/model/bound.js'
import type { ProgressEvent } from '../report/model/progress.js'
import type { Io } from './io.js'
import type { Progress } from './progress.js'

/** Options of every command on a report. */
export interface SharedOptions {
  set?: string[]
  where?: string
  period?: string
  asOf?: string
  since?: string
  quiet?: boolean
  /** False with --no-limit. */
  limit?: boolean
}

export function settingsOf(options: SharedOptions, io: Io, progress?: Progress): Settings {
  const problems: Problem[] = []
  const set: [string, string][] = []
  for (const text of options.set ?? []) {
    const at = text.indexOf('=')
    if (at < 1 || at === text.length - 1) problems.push(problem('bad-setting', { found: text }))
    else set.push([text.slice(0, at).trim(), text.slice(at + 1).trim()])
  }
  refuse(problems)
  return {
    parameters: Object.fromEntries(set),
    today: io.today(),
    ...(options.limit === false && { noLimit: true }),
    ...(progress === undefined ? {} : { onProgress: (event) => progress.say(eventText(event)) }),
    ...(options.where === undefined ? {} : { where: options.where }),
    ...(options.period === undefined ? {} : { period: options.period }),
    ...(options.asOf === undefined ? {} : { asOf: options.asOf }),
    ...(options.since === undefined ? {} : { since: options.since }),
  }
}

function eventText(event: ProgressEvent): string {
  if ('rows' in event && event.rows === 0) return `${event.source}: reading …`
  if ('rows' in event) return `${event.source}: ${event.rows.toLocaleString('en')} rows read …`
  return `${event.source}: summarising, question ${event.question} …`
}

/** A problem of a setting is placed at the option that set it. */
export function atOption(p: Problem): Problem {
  const { path = [], ...place } = p.place
  if (path[0] !== 'settings') return p
  const file = path[1] === 'parameters' ? `--set ${path[2]}=${place.text ?? ''}` : OPTIONS[String(path[1])]
  return { ...p, place: { ...place, file } }
}

const OPTIONS: Readonly<Record<string, string>> = {
  where: '--where',
  period: '--period',
  asOf: '--as-of',
  since: '--since',
}
