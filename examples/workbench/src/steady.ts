import { useEffect, useLayoutEffect, useRef, useSyncExternalStore } from 'react'

/** What a press acts on. A handle of a plot is none: what it moves is shown while it is pressed. */
const PRESSED = 'button, summary, [role=menuitem], [role=option]'

/** Open lists and menus. */
let open = 0
let isPressed = false
const listeners = new Set<() => void>()

function tell(): void {
  for (const listener of listeners) listener()
}

function press(now: boolean): void {
  if (isPressed === now) return
  isPressed = now
  tell()
}

window.addEventListener(
  'pointerdown',
  ({ target }) => press(target instanceof Element && target.closest(PRESSED) !== null),
  true,
)
// The click follows in the same task.
const release = (): void => void setTimeout(press, 0, false)
for (const type of ['pointerup', 'pointercancel']) window.addEventListener(type, release, true)
// That of the window alone: a button that is pressed takes the focus from a field.
window.addEventListener('blur', release)

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** Tells that a list or menu is open: what is beside it stays as it is. */
export function useOpen(isOpen: boolean): void {
  useEffect(() => {
    if (!isOpen) return
    open++
    return () => {
      open--
      tell()
    }
  }, [isOpen])
}

/**
 * A value that comes at any time, as it may be shown: while a list or menu is open, or a button is
 * pressed, the last one. Nothing moves from under the pointer by it.
 */
export function useSteady<T>(value: T): T {
  const shown = useRef(value)
  const now = useSyncExternalStore(subscribe, () => (open > 0 || isPressed ? shown.current : value))
  useLayoutEffect(() => {
    shown.current = now
  })
  return now
}
