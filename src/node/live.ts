import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import type { DecidedReport } from '../assemble/answer.js'
import type { Settings } from '../assemble/bind.js'
import { embedFrom } from '../assemble/open.js'
import type { ReportFile } from '../file/report.js'
import type { ReportSpec } from '../file/schema.js'
import type { Problem } from '../problem/problem.js'
import type { SourceTable } from '../table/source-table.js'
import type { LiveParts } from '../view/html/page.js'

/** Answers a report together with what a page carries of it, as JSON for the runtime. */
export async function carryReport(
  file: ReportFile,
  opened: { read: ReadonlyMap<string, SourceTable>; problems: readonly Problem[] },
  settings: Settings,
): Promise<{ decided: DecidedReport; data: string }> {
  const pictures: Record<string, string> = {}
  const { picture, where, period, asOf, today } = settings
  const { decided, stored } = await embedFrom(file, opened.read, opened.problems, {
    ...settings,
    ...(picture && {
      picture: (name) => {
        const found = picture(name)
        if (typeof found === 'string') pictures[name] = found
        return found
      },
    }),
  })
  const given = { ...(where && { where }), ...(period && { period }), ...(asOf && { asOf }) }
  const data = JSON.stringify({
    report: withValues(decided.report.spec, settings.set ?? {}),
    sources: stored,
    ...(file.sharedRules && { sharedRules: file.sharedRules }),
    ...(Object.keys(pictures).length > 0 && { pictures }),
    ...(Object.keys(given).length > 0 && { given }),
    ...(today === undefined ? {} : { today }),
  })
  return { decided, data }
}

/** Parameters set for one run are what the reader starts from. */
function withValues(spec: ReportSpec, set: Readonly<Record<string, string>>): ReportSpec {
  const parameters = Object.entries(spec.parameters ?? {}).map(([name, own]) => {
    if (!Object.hasOwn(set, name)) return [name, own] as const
    const value = /%\s*$/.test(set[name]) ? set[name] : Number(set[name])
    return [name, typeof own === 'object' ? { ...own, value } : value] as const
  })
  return spec.parameters === undefined ? spec : { ...spec, parameters: Object.fromEntries(parameters) }
}

/** The runtime as it was built, with what draws charts or without, and its hash. */
export function liveParts(data: string, charts: boolean): LiveParts {
  const script = readFileSync(new URL(`../live/runtime${charts ? '-charts' : ''}.js`, import.meta.url), 'utf8')
  return { script, hash: createHash('sha256').update(script).digest('base64'), data }
}
