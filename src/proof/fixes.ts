import type { Edit } from '../edit/edits.js'
import { isPlainMap, type PlainMap, valueAt } from '../edit/text/plain.js'
import type { FindingCode } from '../problem/catalogue/findings.js'
import type { Path } from '../problem/problem.js'
import type { ProofFinding } from './finding.js'

/** A report with its rules in keys, as far as fixes look at it. */
type Spec = PlainMap

/** What a fix is made of: the finding, its place, and what stands there. */
interface Found {
  finding: ProofFinding
  path: Path
  /** The rule, status or parameter that the path begins with. */
  thing: PlainMap
  /** What the whole path leads to. */
  value: unknown
  spec: Spec
}

const LOW = ['atLeast', 'above'] as const
const HIGH = ['atMost', 'below'] as const
/** Icons that say a verdict without its colour. */
const ICONS: Readonly<Record<string, string>> = { good: 'tick', fair: 'dash', bad: 'cross' }

/**
 * The fixes that need no decision, by the code of what they fix. A finding that tells of the data
 * of today has none: a rule that paints nothing now may paint something next month.
 */
const FIXES: Readonly<Partial<Record<FindingCode, (found: Found) => Edit[]>>> = {
  hole: (found) => atEndOfBefore(found, found.finding.numbers.from),
  overlap: (found) => atEndOfBefore(found, found.finding.numbers.to),
  'open-end': openEnd,
  'unreachable-band': ({ path, value }) => {
    const band = Number(path[3])
    const isEmpty = isPlainMap(value) && LOW.some((key) => key in value) && HIGH.some((key) => key in value)
    // A band that no value can be in is removed; one that comes too late goes before the others.
    return isEmpty || band === 0 ? [{ do: 'remove', path }] : [{ do: 'move', path, to: 0 }]
  },
  'twin-rules': ({ path }) => [{ do: 'remove', path: path.slice(0, 2) }],
  'equal-in-bad': equalInBad,
  'missing-in-bad': ({ path }) => [{ do: 'remove', path }],
  'percent-meant': ({ finding, path }) => fixText(/did you mean (.+)\?$/, finding, path),
  'count-for-share': countForShare,
  'ranked-outside': ({ path, value }) => [{ do: 'set', path: [...path.slice(0, 2), 'among'], value }],
  'typed-limit': typedLimit,
  'against-sign': ({ path }) => [{ do: 'unset', path: [...path, 'middle'] }],
  // Over values on both sides of zero the other end may be the one that is far out.
  'scale-squeezed': ({ finding: { numbers }, path, value }) =>
    isPlainMap(value) && numbers.from >= 0
      ? [{ do: 'set', path: [...path, 'to'], value: 'percentile(value, 95%)' }]
      : [],
  'one-scale-unlike': ({ path }) => [{ do: 'unset', path }],
  contrast: ({ path, value }) => (isPlainMap(value) && 'ink' in value ? [{ do: 'unset', path: [...path, 'ink'] }] : []),
  'color-alone': ({ path, value }) => {
    const icon = isPlainMap(value) && !('icon' in value) ? ICONS[String(value.verdict)] : undefined
    return icon === undefined ? [] : [{ do: 'set', path: [...path, 'icon'], value: icon }]
  },
  'unused-status': ({ path }) => [{ do: 'remove', path }],
  'unused-parameter': ({ path }) => [{ do: 'remove', path }],
}

/**
 * The edits that fix a finding; empty where somebody has to decide.
 *
 * @param spec the report with its rules in keys.
 */
export function fixEdits(finding: ProofFinding, spec: Spec): readonly Edit[] {
  const { code, path, ignored } = finding
  const fix = FIXES[code]
  if (fix === undefined || path === undefined || path.length < 2 || ignored !== null) return []
  const value = valueAt(spec, path)
  // What another file gives cannot be edited here.
  if (value === undefined) return []
  const thing = valueAt(spec, path.slice(0, 2))
  return fix({ finding, path, thing: isPlainMap(thing) ? thing : {}, value, spec })
}

function bandsOf({ thing }: Found): readonly PlainMap[] {
  return Array.isArray(thing.bands) ? thing.bands.filter(isPlainMap) : []
}

/** The lower limit of a band becomes the upper one of the band before it. */
function atEndOfBefore(found: Found, end: number): Edit[] {
  const { path, value } = found
  if (!isPlainMap(value)) return []
  const before = bandsOf(found).find((band) => HIGH.some((key) => numberOf(found, band[key]) === end))
  const key = before === undefined ? undefined : HIGH.find((one) => before[one] !== undefined)
  if (before === undefined || key === undefined) return []
  const { atLeast: _a, above: _b, ...rest } = value
  const low = key === 'atMost' ? { above: before[key] } : { atLeast: before[key] }
  return [{ do: 'set', path, value: { ...low, ...rest } }]
}

/** The outermost limit is left out. */
function openEnd(found: Found): Edit[] {
  const { finding, path, value } = found
  if (!isPlainMap(value)) return []
  const key = [...HIGH, ...LOW].find((one) => numberOf(found, value[one]) === finding.numbers.limit)
  const limits = [...HIGH, ...LOW].filter((one) => value[one] !== undefined)
  return key === undefined || limits.length < 2 ? [] : [{ do: 'unset', path: [...path, key] }]
}

/** A limit as a number: as it is written, or that of a parameter. */
function numberOf({ spec }: Found, limit: unknown): number | undefined {
  if (typeof limit === 'number') return limit
  if (typeof limit !== 'string') return undefined
  const percent = /^(-?[\d.]+)%$/.exec(limit)
  if (percent !== null) return Number(percent[1]) / 100
  const parameter = valueAt(spec, ['parameters', limit])
  const value = isPlainMap(parameter) ? parameter.value : parameter
  return typeof value === 'number' ? value : undefined
}

/** The limit holds where it is met. */
function equalInBad({ path, value }: Found): Edit[] {
  if (!isPlainMap(value)) return []
  const { above, below, ...rest } = value
  if (above !== undefined) return [{ do: 'set', path, value: { atLeast: above, ...rest } }]
  return below === undefined ? [] : [{ do: 'set', path, value: { atMost: below, ...rest } }]
}

/** A count that takes all cells was meant as a share of them. */
function countForShare({ finding, path, value }: Found): Edit[] {
  const count = finding.numbers.count
  if (!isPlainMap(value) || !(count <= 100)) return []
  const share = `${count}%`
  if (Array.isArray(value.split)) return [{ do: 'set', path: [...path, 'split', 0, 'share'], value: share }]
  const end = ['top', 'bottom', 'best', 'worst'].find((one) => value[one] === count)
  return end === undefined ? [] : [{ do: 'set', path: [...path, end], value: share }]
}

/** A typed number becomes the name of the parameter that has it. */
function typedLimit(found: Found): Edit[] {
  const { finding, path } = found
  const name = finding.at.slice(finding.at.lastIndexOf(', ') + 2)
  return bandsOf(found).flatMap((band, i) =>
    [...LOW, ...HIGH].flatMap((key): Edit[] => {
      const limit = band[key]
      const isTyped = limit !== name && numberOf(found, limit) === finding.numbers.value
      return isTyped ? [{ do: 'set', path: [...path, 'bands', i, key], value: name }] : []
    }),
  )
}

/** What the fix of the finding says to write. */
function fixText(pattern: RegExp, { fix }: ProofFinding, path: Path): Edit[] {
  const text = pattern.exec(fix)?.[1]
  return text === undefined ? [] : [{ do: 'set', path, value: text }]
}
