import { settleAll } from '../column/decimals.js'
import type { Names, Setting } from '../expression/bind.js'
import { bindInOrder } from '../expression/bind-in-order.js'
import type { Bound } from '../expression/bound.js'
import { evaluate, type Scope } from '../expression/evaluate.js'
import type { Diagnostics } from '../problem/diagnostics.js'
import { CIVIL_CALENDAR } from '../time/calendar.js'
import { tableDecimals } from './decimals.js'
import { columnVector, vectorColumn } from './scope.js'
import { type Table, type TableColumn, withColumn } from './table.js'

/** The columns of a table as names in expressions; `source` may precede a dot. */
export function columnNames(table: Table, source: string): Names {
  return {
    find(name, from) {
      // A column of a lookup table has the name of its source before a dot.
      const full = from === undefined || from === source ? name : `${from}.${name}`
      const column = table.columns.get(full)
      return column === undefined ? undefined : { ref: { kind: 'field', name: full }, type: column.type }
    },
    all: () => [...table.columns.keys()],
  }
}

/** The scope of a table's rows; a row has no aggregates. */
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
 * Adds the fields of a source, computed for each row. A field may use other fields, in any order;
 * one with a problem is left out. `bounds` are the fields for an engine that computes them in a
 * database, each after those that it uses.
 */
export function addFields(
  table: Table,
  source: string,
  fields: Readonly<Record<string, string>>,
  at: Diagnostics,
  { calendar = CIVIL_CALENDAR, ...more }: Pick<Setting, 'calendar' | 'hidden'> = {},
): { table: Table; bounds: Map<string, Bound> } {
  let result = table
  const find: Names['find'] = (name, from) => {
    if (from === undefined && Object.hasOwn(fields, name)) {
      bindings.need(name)
      // An invalid field can still be named, so that its mistake is reported once.
      if (bindings.isSettled(name) && bindings.get(name) === undefined)
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
  const bindings = bindInOrder<Bound>({
    texts: new Map(Object.entries(fields)),
    setting,
    // A field with the name of the column that it reads means that column: `amount: round(amount)`.
    isOther: (name) => table.columns.has(name),
    circle: (circle) => at.at(circle[0]).report('circle', { circle }),
    refused: (name, problems) => at.at(name).take(problems),
    finish(name, { bound }) {
      if (bound.type.kind === 'unknown') return undefined
      result = withColumn(result, fieldColumn(result, name, bound))
      return bound
    },
  })
  const bounds = bindings.all()
  return { table: result, bounds }
}

/** The column of a field. */
function fieldColumn(table: Table, name: string, bound: Bound): TableColumn {
  const { type } = bound
  const vector = evaluate(bound, rowScope(table))
  if (vector.kind !== 'number' || type.kind !== 'number')
    return { name, label: name, column: vectorColumn(vector, table.length, type.kind === 'date'), type }
  const decimals = tableDecimals(table)(bound)
  const settled = { ...vector, values: settleAll(vector.values, decimals) }
  return { name, label: name, column: vectorColumn(settled, table.length, false), type, decimals: decimals ?? null }
}
