import { isStatistic, type Statistic } from '../column/statistic.js'
import type { SENTENCES } from '../problem/catalogue/sentences.js'
import { nearest } from '../problem/nearest.js'
import { type CommonCode, type Problem, problem } from '../problem/problem.js'
import { parsePeriod, type Span, spanOf } from '../time/period.js'
import { type Bound, type BoundAggregate, filled, isOpen, type Type, unitOnly } from './bound.js'
import type { CallBinder } from './call-binder.js'
import { bindCall } from './calls.js'
import { printExpression } from './print.js'
import { type Names, readByOne, type Setting, typeText } from './setting.js'
import { type Comparison, isArithmetic, isComparison, type Tree } from './tree.js'
import { COUNT, meet, NONE, over, times, type Unit, unitText } from './unit.js'

const UNKNOWN: Type = { kind: 'unknown' }
const CONDITION: Type = { kind: 'condition' }

/**
 * Binds one expression, with one method for each kind of tree node. All problems are collected; a
 * part that cannot be bound is replaced by a placeholder.
 */
export class Binder implements CallBinder {
  readonly problems: Problem[] = []
  /** The aggregate that is being bound, if any. */
  inAggregate: string | undefined

  constructor(
    private readonly text: string,
    readonly setting: Setting,
  ) {}

  bind(tree: Tree): Bound {
    switch (tree.op) {
      case 'number':
        return {
          op: 'number',
          value: tree.value,
          type: { kind: 'number', unit: tree.percent ? { is: 'percent' } : NONE, zero: tree.value === 0 },
        }
      case 'text':
        return { op: 'text', value: tree.value, type: { kind: 'text' } }
      case 'truth':
        return { op: 'truth', value: tree.value, type: CONDITION }
      case 'period':
        this.tell('wrong-type', tree, {
          what: 'a period',
          expected: 'a date to be compared with',
          found: 'alone',
          advice: 'write it as in date >= 2025-Q2',
        })
        return this.lost()
      case 'duration':
        this.tell('stray-duration', tree, { text: printExpression(tree) })
        return this.lost()
      case 'name':
        return this.name(tree)
      case 'call':
        return this.call(tree)
      case 'negate': {
        const of = this.number(tree.of, 'a minus')
        return { op: 'negate', of, type: of.type }
      }
      case 'not':
        return { op: 'not', of: this.condition(tree.of, "'not'"), type: CONDITION }
      case 'and':
      case 'or':
        return {
          op: tree.op,
          left: this.condition(tree.left, `'${tree.op}'`),
          right: this.condition(tree.right, `'${tree.op}'`),
          type: CONDITION,
        }
      case 'contains':
        return this.contains(tree)
      case 'in': {
        const of = this.bind(tree.of)
        if (of.type.kind === 'date') return this.amongPeriods(of, tree)
        const list = tree.list.map((item) => {
          const bound = this.beside(of, item)
          this.comparable(of, bound, item, '=')
          return bound
        })
        return { op: 'in', of, list, not: tree.not, type: CONDITION }
      }
      case 'missing':
        return { op: 'missing', of: this.bind(tree.of), not: tree.not, type: CONDITION }
      case 'if':
        return this.choice(tree)
      default:
        if (isComparison(tree.op)) return this.comparison(tree as Tree & { left: Tree; right: Tree }, tree.op)
        return this.arithmetic(tree as Tree & { left: Tree; right: Tree })
    }
  }

  private name(tree: Tree & { op: 'name' }): Bound {
    const names = this.inAggregate === undefined ? this.setting.names : (this.setting.inside ?? this.setting.names)
    const binding = names.find(tree.name, tree.source)
    if (binding !== undefined) return { op: 'name', ref: binding.ref, type: binding.type }
    if (tree.name === 'value' && tree.source === undefined) this.tell('value-outside-rule', tree, {})
    else this.unknownName(tree, names)
    return this.lost()
  }

  /** In a comparison with a text, an unknown name is a text without its quotes. */
  private beside(of: Bound | undefined, tree: Tree): Bound {
    if (of?.type.kind !== 'text' || tree.op !== 'name' || tree.source !== undefined) return this.bind(tree)
    const names = this.inAggregate === undefined ? this.setting.names : (this.setting.inside ?? this.setting.names)
    const isKnown = names.find(tree.name) !== undefined || this.setting.hidden?.(tree.name) !== undefined
    if (isKnown || nearest(tree.name, names.all()) !== undefined) return this.bind(tree)
    this.tell('text-unquoted', tree, { name: tree.name })
    return this.lost()
  }

  private unknownName(tree: Tree & { op: 'name' }, names: Names): void {
    const { name } = tree
    if (this.inAggregate !== undefined) {
      const measure = this.setting.names.find(name, tree.source)
      if (measure?.ref.kind === 'measure' && measure.formula !== undefined) {
        const params = { name, aggregate: this.inAggregate, formula: measure.formula }
        this.tell('aggregate-of-measure', tree, params)
        return
      }
    } else if (this.setting.rows?.find(name, tree.source) !== undefined) {
      this.tell('bare-field', tree, { name })
      return
    }
    const hidden = tree.source === undefined ? this.setting.hidden?.(name) : undefined
    if (hidden !== undefined) {
      this.tell('not-seen', tree, { name, is: hidden, what: this.setting.what })
      return
    }
    const candidates = names.all()
    // Next to `source.column`, a plain name is looked up in that source first.
    const full = tree.source === undefined ? name : `${tree.source}.${name}`
    this.tell('unknown-name', tree, {
      name: full,
      nearest: nearest(full, candidates) ?? nearest(name, candidates),
      known: candidates,
    })
  }

  private call(tree: Tree & { op: 'call' }): Bound {
    return isStatistic(tree.name) ? this.aggregate(tree, tree.name) : bindCall(this, tree)
  }

  private aggregate(tree: Tree & { op: 'call' }, statistic: Statistic): Bound {
    const { name } = tree
    if (this.setting.inside === undefined) {
      this.tell('aggregate-here', tree, { name, where: this.setting.what })
      return this.lost()
    }
    if (this.inAggregate !== undefined) {
      this.tell('aggregate-in-aggregate', tree, { name })
      return this.lost()
    }
    const byDate = statistic === 'first' || statistic === 'last'
    if (byDate && this.setting.time !== true) this.tell('first-undated', tree, { name })
    const wanted = statistic === 'percentile' ? 2 : 1
    if (tree.args.length > wanted || (tree.args.length < wanted && statistic !== 'count')) {
      const column = this.setting.inside.all().find((name) => this.setting.inside?.find(name)?.type.kind === 'number')
      const one = column === undefined ? 'one number' : `one number, as in ${name}(${column})`
      const takes = statistic === 'percentile' ? 'a number and a percent, as in percentile(x, 90%)' : one
      this.tell('argument-count', tree, { name: `${name}()`, takes, found: tree.args.length })
      return this.lost()
    }
    this.checkGroups(tree)
    const share = statistic === 'percentile' ? this.share(tree.args[1]) : 0.5
    this.inAggregate = name
    const of = tree.args.length === 0 ? undefined : this.counted(tree.args[0], statistic)
    const where = tree.where === undefined ? undefined : this.condition(tree.where, "'where'")
    this.inAggregate = undefined
    const bound: BoundAggregate = { op: 'aggregate', statistic, share, key: printExpression(tree), type: UNKNOWN }
    if (of !== undefined) bound.of = of
    if (where !== undefined) bound.where = where
    if (tree.within !== undefined) bound.within = tree.within
    this.noteSource(bound, tree)
    const counts = statistic === 'count' || statistic === 'countDistinct'
    bound.type = counts ? { kind: 'number', unit: COUNT } : unitOnly(of?.type ?? UNKNOWN)
    return bound
  }

  /** An aggregate reads the rows of one source: columns of two in one aggregate are a problem. */
  private noteSource(bound: BoundAggregate, tree: Tree): void {
    const sources = readByOne(bound, this.setting.inside)
    if (sources !== undefined)
      this.tell('two-sources', tree, { name: bound.statistic, sources: sources.map((s) => s ?? 'home') })
  }

  /** Values of any kind can be counted; all other statistics need numbers. */
  private counted(tree: Tree, statistic: Statistic): Bound {
    return statistic === 'count' || statistic === 'countDistinct'
      ? this.bind(tree)
      : this.number(tree, `${statistic}()`)
  }

  private checkGroups(tree: Tree & { op: 'call' }): void {
    const { groups } = this.setting
    if (tree.within === undefined) return
    if (groups === undefined) {
      this.tell('clause-here', tree, {
        clause: 'within',
        advice: 'groups belong to the rules, over the cells of an exhibit',
      })
      return
    }
    for (const name of tree.within)
      if (!groups(name)) this.tell('unknown-name', tree, { name, known: this.setting.names.all() })
  }

  private share(tree: Tree): number {
    if (tree.op === 'number' && tree.percent && tree.value <= 1) return tree.value
    const text = printExpression(tree)
    this.tell('wrong-type', tree, { what: 'percentile()', expected: 'a written percent up to 100%', found: text })
    return 0.5
  }

  refuseClauses(tree: Tree & { op: 'call' }, advice: string): void {
    if (tree.where !== undefined) this.tell('clause-here', tree, { clause: 'where', advice })
    if (tree.within !== undefined) this.tell('clause-here', tree, { clause: 'within', advice })
  }

  private contains(tree: Tree & { left: Tree; right: Tree }): Bound {
    const of = filled(this.bind(tree.left), { kind: 'text' })
    if (of.type.kind !== 'text' && of.type.kind !== 'unknown') this.wrong(tree.left, "'contains'", 'a text', of.type)
    if (tree.right.op === 'name') {
      this.tell('text-unquoted', tree.right, { name: tree.right.name })
      return this.lost()
    }
    if (tree.right.op !== 'text') {
      this.wrong(
        tree.right,
        "what stands behind 'contains'",
        "a written text such as 'rose'",
        this.bind(tree.right).type,
      )
      return this.lost()
    }
    return { op: 'contains', of, text: tree.right.value, type: CONDITION }
  }

  private choice(tree: Tree & { op: 'if' }): Bound {
    const test = this.condition(tree.test, "'if'")
    const yes = this.bind(tree.yes)
    const no = this.bind(tree.no)
    return { op: 'if', test, yes, no, type: this.joined(yes.type, no.type, tree.no, 'put together') }
  }

  private comparison(tree: Tree & { left: Tree; right: Tree }, sign: Comparison): Bound {
    const left = this.period(tree.left) === undefined ? this.bind(tree.left) : undefined
    const right = this.period(tree.right) === undefined ? this.beside(left, tree.right) : undefined
    const isDated = ({ type }: Bound): boolean => type.kind === 'date' || type.kind === 'blank'
    if (left !== undefined && right === undefined && isDated(left)) return this.during(left, tree.right, sign)
    if (right !== undefined && left === undefined && isDated(right)) return this.during(right, tree.left, turned(sign))
    const one = left ?? this.bind(tree.left)
    const other = right ?? this.bind(tree.right)
    this.comparable(one, other, tree, sign)
    return { op: 'compare', sign, left: one, right: other, type: CONDITION }
  }

  /** A written period; undefined for other text. A bare year is also a number. */
  private period(tree: Tree): Span | undefined {
    const written = tree.op === 'period' ? tree.text : tree.op === 'number' && !tree.percent ? String(tree.value) : ''
    const read = parsePeriod(written, this.setting.calendar)
    return read && spanOf(read.unit, read.period, this.setting.calendar)
  }

  /** A date compared with a written period: equal means inside it. */
  private during(of: Bound, tree: Tree, sign: Comparison): Bound {
    const span = this.period(tree)
    return span === undefined ? this.lost() : { op: 'during', sign, of, span, type: CONDITION }
  }

  /** `date in (2025-01, 2025-03)`: inside one of them. */
  private amongPeriods(of: Bound, tree: Tree & { op: 'in' }): Bound {
    let any: Bound | undefined
    for (const item of tree.list) {
      let condition: Bound
      if (this.period(item) !== undefined) condition = this.during(of, item, '=')
      else {
        const right = this.bind(item)
        this.comparable(of, right, item, '=')
        condition = { op: 'compare', sign: '=', left: of, right, type: CONDITION }
      }
      any = any === undefined ? condition : { op: 'or', left: any, right: condition, type: CONDITION }
    }
    if (any === undefined) return this.lost()
    return tree.not ? { op: 'not', of: any, type: CONDITION } : any
  }

  private comparable(left: Bound, right: Bound, at: Tree, sign: Comparison): void {
    const a = left.type
    const b = right.type
    if (isOpen(a) || isOpen(b)) return
    if (a.kind === 'number' && b.kind === 'number') {
      this.joined(a, b, at, 'compared')
      return
    }
    if (a.kind !== b.kind) {
      this.tell('unlike-types', at, { left: typeText(a), right: typeText(b), verb: 'compared' })
      return
    }
    if (a.kind !== 'date' && sign !== '=' && sign !== '!=')
      this.tell('wrong-type', at, {
        what: `'${sign}'`,
        expected: 'numbers or dates',
        found: typeText(a),
        advice: 'compare it with = or !=',
      })
  }

  private arithmetic(tree: Tree & { left: Tree; right: Tree }): Bound {
    const sign = tree.op
    if (!isArithmetic(sign)) throw new Error(`no such operator: ${sign}`)
    const left = this.number(tree.left, `'${sign}'`)
    const right = this.number(tree.right, `'${sign}'`)
    const a = left.type
    const b = right.type
    let type: Type = UNKNOWN
    if (a.kind === 'number' && b.kind === 'number') {
      if (sign === '+' || sign === '-') type = this.joined(a, b, tree, sign === '+' ? 'added' : 'subtracted')
      else if (sign === '*') type = { kind: 'number', unit: times(a.unit, b.unit) }
      else if (sign === '/') type = { kind: 'number', unit: over(a.unit, b.unit) }
      else {
        const share = a.unit.is === 'percent' || (a.unit.is === 'none' && a.unit.like === true)
        if (!share) this.tell('of-needs-percent', tree.left, { found: typeText(a) })
        type = unitOnly(b)
      }
    }
    return { op: 'arithmetic', sign, left, right, type }
  }

  /** The common type of two numbers; reports units that differ. */
  joined(a: Type, b: Type, at: Tree, verb: string): Type {
    if (a.kind === 'unknown' || b.kind === 'unknown') return UNKNOWN
    if (a.kind === 'blank') return b
    if (b.kind === 'blank') return a
    if (a.kind !== 'number' || b.kind !== 'number') {
      if (a.kind !== b.kind) this.tell('unlike-types', at, { left: typeText(a), right: typeText(b), verb })
      return a
    }
    if (a.zero) return unitOnly(b)
    if (b.zero) return unitOnly(a)
    const unit: Unit | undefined = meet(a.unit, b.unit)
    if (unit !== undefined) return { kind: 'number', unit }
    const percent = a.unit.is === 'percent' || b.unit.is === 'percent'
    const advice = percent ? 'say of what it is a percent, as in 80% of target' : undefined
    this.tell('unlike-units', at, { left: unitText(a.unit), right: unitText(b.unit), verb, advice })
    return UNKNOWN
  }

  number(tree: Tree, what: string): Bound {
    const bound = filled(this.bind(tree), { kind: 'number', unit: NONE })
    if (bound.type.kind !== 'number' && bound.type.kind !== 'unknown') this.wrong(tree, what, 'a number', bound.type)
    return bound
  }

  condition(tree: Tree, what: string): Bound {
    const bound = filled(this.bind(tree), CONDITION)
    if (bound.type.kind !== 'condition' && bound.type.kind !== 'unknown')
      this.wrong(tree, what, 'a condition, true or false', bound.type)
    return bound
  }

  wrong(tree: Tree, what: string, expected: string, type: Type): void {
    if (type.kind === 'unknown') return
    this.tell('wrong-type', tree, { what, expected, found: typeText(type) })
  }

  tell<C extends CommonCode>(code: C, at: Tree, params: Parameters<(typeof SENTENCES)[C]>[0]): void {
    this.problems.push(problem(code, params, { text: this.text, from: at.from, to: at.to }))
  }

  /**
   * The placeholder of a part that cannot be bound; its type prevents further problems about the
   * same mistake.
   */
  lost(): Bound {
    return { op: 'number', value: Number.NaN, type: UNKNOWN }
  }
}

function turned(sign: Comparison): Comparison {
  const turn: Partial<Record<Comparison, Comparison>> = { '<': '>', '<=': '>=', '>': '<', '>=': '<=' }
  return turn[sign] ?? sign
}
