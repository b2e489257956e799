import { settleAll } from '../column/decimals.js'
import { bindExpression, didBind, type Names, type Setting } from '../expression/bind.js'
import type { Bound } from '../expression/bound.js'
import { evaluate, type Scope } from '../expression/evaluate.js'
import type { Diagnostics } from '../problem/diagnostics.js'
import { CIVIL_CALENDAR } from '../time/calendar.js'
import { tableDecimals } from './decimals.js'
import { columnVector, vectorColumn } from './scope.js'
import { type Table, withColumn } from './table.js'

/** The columns of a table as names for expressions; `source` may stand before a dot. */
export function columnNames(table: Table, source: string): Names {
  return {
    find(name, from) {
      if (from !== undefined && from !== source) return undefined
      const column = table.columns.get(name)
      return column === undefined ? undefined : { ref: { kind: 'field', name }, type: column.type }
    },
    all: () => [...table.columns.keys()],
  }
}

/** Reads the columns of a table; there is nothing to aggregate in a row. */
export function rowScope(table: Table): Scope {
  return {
    length: table.length,
    decimals: tableDecimals(table),
    read(ref) {
      const column = table.columns.get(ref.name)
      if (column === undefined) throw new Error(`no column ${ref.name}`)
      return columnVector(column.column)
    },
    aggregate() {
      throw new Error('a row has nothing to aggregate')
    },
  }
}

/**
 * Adds the fields of a source, worked out per row. A field may use the ones beside it, in any
 * order. Problems go to `problems`; a field with one is left out. `bounds` are the fields for an
 * engine that works them out where the rows are, each after those it uses.
 */
export function addFields(
  table: Table,
  source: string,
  fields: Readonly<Record<string, string>>,
  at: Diagnostics,
  { calendar = CIVIL_CALENDAR, ...more }: Pick<Setting, 'calendar' | 'hidden'> = {},
): { table: Table; bounds: Map<string, Bound> } {
  const done = new Map<string, Bound | undefined>()
  const open: string[] = []
  let result = table
  const find: Names['find'] = (name, from) => {
    if (from === undefined && Object.hasOwn(fields, name)) {
      settle(name)
      // One that has a problem of its own is named all the same, so that its mistake is told once.
      if (done.has(name) && done.get(name) === undefined)
        return { ref: { kind: 'field', name }, type: { kind: 'unknown' } }
    }
    return columnNames(result, source).find(name, from)
  }
  const setting: Setting = {
    what: 'a field',
    ...more,
    calendar,
    names: { find, all: () => [...new Set([...Object.keys(fields), ...table.columns.keys()])] },
  }
  const settle = (name: string): void => {
    if (done.has(name)) return
    if (open.includes(name)) {
      // A field named like the raw column it reads means that column: `amount: round(amount)`.
      if (open.at(-1) === name && table.columns.has(name)) return
      const circle = [...open.slice(open.indexOf(name)), name]
      at.at(name).report('circle', { circle })
      done.set(name, undefined)
      return
    }
    open.push(name)
    const bound = bindExpression(fields[name], setting)
    open.pop()
    if (done.has(name)) return
    if (!didBind(bound)) {
      at.at(name).take(bound)
      done.set(name, undefined)
      return
    }
    const { type } = bound.bound
    done.set(name, type.kind === 'unknown' ? undefined : bound.bound)
    if (type.kind === 'unknown') return
    const vector = evaluate(bound.bound, rowScope(result))
    if (vector.kind !== 'number' || type.kind !== 'number') {
      result = withColumn(result, {
        name,
        label: name,
        column: vectorColumn(vector, table.length, type.kind === 'date'),
        type,
      })
      return
    }
    const decimals = tableDecimals(result)(bound.bound)
    const settled = { ...vector, values: settleAll(vector.values, decimals) }
    const column = vectorColumn(settled, table.length, false)
    result = withColumn(result, { name, label: name, column, type, decimals: decimals ?? null })
  }
  for (const name of Object.keys(fields)) settle(name)
  const bounds = new Map([...done].filter((entry): entry is [string, Bound] => entry[1] !== undefined))
  return { table: result, bounds }
}
