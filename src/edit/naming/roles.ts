import type { Path } from '../../problem/problem.js'

/**
 * What the texts of a report refer to, by their place: which of them are expressions, and which
 * name something. A rename follows these.
 */
export type Role =
  /** An expression over rows of the home source, or of the source of a field. */
  | 'rows'
  /** The formula of a measure: columns inside its aggregates, measures and parameters outside. */
  | 'formula'
  /** An expression over cells, or the name of a parameter as a size: measures come first. */
  | 'cells'
  /** The name of a measure, else of a field. */
  | 'value'
  /** The name of a field or column that splits or heads something. */
  | 'key'
  /** A measure or key with a minus for falling order. */
  | 'sort'
  | 'status'
  | 'exhibit'
  | 'color'
  | 'icon'
  /** A text with names in braces. */
  | 'braces'
  /** An exhibit and a measure with a dot between them. */
  | 'strip'
  /** A rule, exhibit, exhibit.measure, status or source. */
  | 'anything'
  /** Refers to nothing of the report. */
  | 'plain'

const STYLE = '(?:statuses\\.\\*|rules\\.#\\.(?:rank|bands\\.#|rank\\.split\\.#)(?:\\.(?:style|missing|otherwise))?)'
const KEYED = '(?:rows|columns|along|by)'

/** Patterns of places: `#` is an index, `*` a name. The first that fits decides. */
const ROLES: readonly (readonly [RegExp, Role])[] = (
  [
    ['where|exhibits\\.#\\.where|fields\\.\\*\\.\\*', 'rows'],
    ['measures\\.\\*(?:\\.formula)?', 'formula'],
    ['rules\\.#\\.(?:judge|where|among)', 'cells'],
    ['rules\\.#\\.bands\\.#\\.(?:atLeast|above|atMost|below|when)', 'cells'],
    ['rules\\.#\\.(?:gradient|bar)\\.(?:from|to|middle|base)', 'cells'],
    [
      'rules\\.#\\.rank\\.(?:top|bottom|best|worst)|rules\\.#\\.rank\\.split\\.#\\.share|rules\\.#\\.gradient\\.steps',
      'cells',
    ],
    ['exhibits\\.#\\.chart\\.references\\.#\\.at', 'cells'],
    ['rules\\.#\\.paint(?:\\.#)?|rules\\.#\\.rank\\.of', 'value'],
    ['rules\\.#\\.(?:within|grain)(?:\\.#)?|rules\\.#\\.fromColumn\\.\\w+', 'key'],
    ['rules\\.#\\.only\\.#|exhibits\\.#\\.beside', 'exhibit'],
    ['exhibits\\.#\\.\\w+\\.sort(?:\\.#)?', 'sort'],
    [`exhibits\\.#\\.\\w+\\.${KEYED}(?:\\.#)?(?:\\.key)?`, 'key'],
    ['exhibits\\.#\\.chart\\.(?:series|panels)|exhibits\\.#\\.records\\.group|filters\\.#', 'key'],
    ['exhibits\\.#\\.\\w+(?:\\.show(?:\\.#)?)?\\.trend\\.along|exhibits\\.#\\.cards\\.#\\.trend\\.along', 'key'],
    ['exhibits\\.#\\.(?:list|showing)\\.status(?:\\.#)?', 'status'],
    ['exhibits\\.#\\.\\w+\\.show(?:\\.#)?\\.status', 'value'],
    ['exhibits\\.#\\.\\w+(?:\\.#)?\\.show(?:\\.#)?(?:\\.show)?', 'value'],
    ['exhibits\\.#\\.\\w+(?:\\.#)?(?:\\.show(?:\\.#)?)?\\.trend\\.of', 'value'],
    ['exhibits\\.#\\.\\w+(?:\\.#)?\\.(?:of|versus)', 'value'],
    ['exhibits\\.#\\.cards\\.#\\.note', 'braces'],
    [`${STYLE}\\.flag`, 'braces'],
    [`${STYLE}\\.(?:wash|fill|ink)|rules\\.#\\.gradient\\.ramp(?:\\.#)?|rules\\.#\\.bar\\.(?:color|negative)`, 'color'],
    [`${STYLE}\\.icon|rules\\.#\\.gradient\\.icons(?:\\.#)?`, 'icon'],
    ['rules\\.#\\.(?:bands\\.#|rank|rank\\.split\\.#)\\.(?:status|missing|otherwise)', 'status'],
    ['strip', 'strip'],
    ['proof\\.ignore\\.#\\.at', 'anything'],
    ['sources\\.\\*\\.match(?:\\.#)?', 'key'],
  ] as const
).map(([pattern, role]) => [new RegExp(`^(?:${pattern})$`), role] as const)

/** What refers to nothing: words for readers, files, formats, names themselves. */
const PLAIN = [
  'title|note|locale|asOf|since|period|calendar\\.\\w+|include\\.#',
  'sources\\.\\*\\.(?:file|sheet|range|merged|postgres|table|query|engine|date|currency|of|per|lookup)(?:\\..*)?',
  'sources\\.\\*\\.(?:read|labels|stack|unstack|match\\.#)(?:\\..*)?',
  'labels\\.\\*|measures\\.\\*\\.(?:label|format)|parameters\\.\\*(?:\\.(?:value|from|to|label|format))?',
  'statuses\\.\\*\\.(?:label|picture)|pigments\\.\\*(?:\\.\\w+)?|icons\\.\\*',
  'rules\\.#(?:\\.(?:name|title|say|\\*))?|rules\\.#\\.bands\\.#\\.(?:equals|in\\.#|contains)|rules\\.#\\..*picture',
  'exhibits\\.#\\.(?:name|title|note|section|since|period)|exhibits\\.#\\..*\\.(?:label|others|period|order\\.#|values\\.#)',
  'proof\\.ignore\\.#\\.because',
].map((pattern) => new RegExp(`^(?:${pattern})$`))

/** The role of a text; undefined where the table has none, which is a mistake of the table. */
export function roleOf(place: string): Role | undefined {
  const found = ROLES.find(([pattern]) => pattern.test(place))
  return found?.[1] ?? (PLAIN.some((pattern) => pattern.test(place)) ? 'plain' : undefined)
}

/** Sections whose keys are names. */
const NAMED: ReadonlySet<string> = new Set([
  'sources',
  'measures',
  'parameters',
  'statuses',
  'pigments',
  'icons',
  'labels',
])

/** A path as the place of a pattern. */
export function placeOfPath(path: Path): string {
  return path
    .map((step, i) => {
      if (typeof step === 'number') return '#'
      if (i === 1 && (NAMED.has(String(path[0])) || path[0] === 'fields')) return '*'
      if (i === 2 && path[0] === 'fields') return '*'
      if (i === 3 && path[0] === 'sources' && (path[2] === 'labels' || path[2] === 'read')) return '*'
      return step
    })
    .join('.')
}
