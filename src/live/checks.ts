import { problem } from '../problem/input.js'
import { nearest } from '../problem/nearest.js'
import { type Problem, refuse } from '../problem/problem.js'
import { setParameter } from '../rule/bind/parameters.js'
import { checkShape, type Shape } from '../shape/shape.js'
import type { MountOptions } from './mount-options.js'
import { allowedActions, type ReportControls } from './session/model.js'
import type { Action } from './state/state.js'

/**
 * Checks the actions of a program. Readers can only do what the controls allow, so pages of the
 * tool need no checks.
 */
export interface ActionChecks {
  /**
   * Checks an action; returns it with the text of a parameter as its number.
   *
   * @throws ProblemError for unknown names and values, and for what is no action.
   */
  action(action: Action | SetText, controls: ReportControls): Action
  /** @throws ProblemError for what is no name of a class, or no test of cells. */
  mark(className: string, holds: unknown): void
  /** @throws ProblemError carrying every problem of the options. */
  start(options: MountOptions, controls: ReportControls): Action[]
}

/** A parameter may be set as it is written: '15%'. */
export interface SetText {
  do: 'set'
  parameter: string
  value: number | string
}

const CLASS_NAME = /^[\p{L}_-][\p{L}\p{N}_-]*$/u

const OPTIONS: Shape = {
  keys: {
    'parameters?': { each: { any: ['number', 'text'] } },
    'filters?': { each: { list: 'text' } },
    'onChange?': 'function',
    'address?': 'truth',
  },
}

const ACTIONS: Readonly<Record<string, Shape>> = {
  set: { keys: { do: 'text', parameter: 'text', value: { any: ['number', 'text'] } } },
  filter: { keys: { do: 'text', key: 'text', values: { list: 'text' } } },
  period: { keys: { do: 'text', period: { any: ['text', 'nothing'] } } },
  pause: { keys: { do: 'text', rule: 'text', paused: 'truth' } },
  sort: { keys: { do: 'text', exhibit: 'text', by: { any: ['text', 'nothing'] } } },
  theme: { keys: { do: 'text', theme: { oneOf: ['auto', 'light', 'dark'] } } },
  plain: { keys: { do: 'text', plain: 'truth' } },
  reset: { keys: { do: 'text' } },
  again: { keys: { do: 'text' } },
}

export const checks: ActionChecks = {
  action(action, controls) {
    checkShape({ each: 'anything' }, action, ['action'])
    checkShape({ oneOf: Object.keys(ACTIONS) }, action.do, ['action', 'do'])
    checkShape(ACTIONS[action.do], action, ['action'])
    const problems: Problem[] = []
    const checkedAction = checked(action, controls, problems)
    refuse(problems)
    return checkedAction
  },
  mark(className, holds) {
    checkShape('text', className, ['className'])
    if (!CLASS_NAME.test(className)) refuse([problem('no-class-name', { text: className })])
    checkShape({ any: ['function', 'nothing'] }, holds, ['holds'])
  },
  start(options, controls) {
    checkShape(OPTIONS, options, ['options'])
    const problems: Problem[] = []
    const actions = [
      ...Object.entries(options.parameters ?? {}).map(([parameter, value]) =>
        checked({ do: 'set', parameter, value }, controls, problems),
      ),
      ...Object.entries(options.filters ?? {}).map(([key, values]) =>
        checked({ do: 'filter', key, values }, controls, problems),
      ),
    ]
    refuse(problems)
    return actions
  },
}

function checked(action: Action | SetText, controls: ReportControls, problems: Problem[]): Action {
  const allowed = allowedActions(controls)
  /** Reports an unknown name with the nearest one. */
  const unknown = <
    C extends 'unknown-parameter' | 'unknown-filter' | 'rule-unknown' | 'unknown-sorted' | 'sort-unknown',
  >(
    code: C,
    name: string,
    candidates: readonly string[],
  ): void => {
    problems.push(problem(code, { name, nearest: nearest(name, candidates), known: candidates }))
  }
  switch (action.do) {
    case 'set': {
      const parameter = controls.parameters.find(({ name }) => name === action.parameter)
      if (parameter === undefined) unknown('unknown-parameter', action.parameter, [...allowed.parameters.keys()])
      else {
        const moved = setParameter(parameter, action.value, controls.locale, [])
        if (!('code' in moved)) return { ...action, value: moved.value }
        problems.push(moved)
      }
      return { ...action, value: 0 }
    }
    case 'filter': {
      const values = allowed.filters.get(action.key)
      if (values === undefined) unknown('unknown-filter', action.key, [...allowed.filters.keys()])
      else
        for (const value of action.values)
          if (!values.includes(value))
            problems.push(
              problem('unknown-value', { name: action.key, value, nearest: nearest(value, values), known: values }),
            )
      return action
    }
    case 'period':
      if (action.period !== null && !allowed.isPeriod(action.period))
        problems.push(
          allowed.isPeriod('all')
            ? problem('period-unknown', { text: action.period })
            : problem('no-period-filter', {}),
        )
      return action
    case 'pause':
      if (!allowed.rules.includes(action.rule)) unknown('rule-unknown', action.rule, allowed.rules)
      return action
    case 'sort': {
      const columns = allowed.sorts.get(action.exhibit)
      const by = action.by?.replace(/^-/, '')
      if (columns === undefined) unknown('unknown-sorted', action.exhibit, [...allowed.sorts.keys()])
      else if (by !== undefined && !columns.includes(by)) unknown('sort-unknown', by, columns)
      return action
    }
    default:
      return action
  }
}
