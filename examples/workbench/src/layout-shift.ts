import { useEffect, useLayoutEffect, useRef, useSyncExternalStore } from 'react'

/**
 * Results of the engine come at any time. While a menu or list is open, or a button is pressed,
 * they would shift the layout under the pointer, and a click would miss its target: they are held
 * back until then.
 */

/** What is pressed. A handle of a plot is left out: what it changes is shown while it moves. */
const PRESSABLE = 'button, summary, [role=menuitem], [role=option]'

/** How many lists and menus are open. */
let openLists = 0
let isPressed = false
const listeners = new Set<() => void>()

function notify(): void {
  for (const listener of listeners) listener()
}

function setPressed(now: boolean): void {
  if (isPressed === now) return
  isPressed = now
  notify()
}

window.addEventListener(
  'pointerdown',
  ({ target }) => setPressed(target instanceof Element && target.closest(PRESSABLE) !== null),
  true,
)
// The click event comes after pointerup, in the same task.
const release = (): void => void setTimeout(setPressed, 0, false)
for (const type of ['pointerup', 'pointercancel']) window.addEventListener(type, release, true)
// Of the window alone, so without capture: a pressed button takes the focus from a field.
window.addEventListener('blur', release)

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** Holds back values of `useHeldValue` while a list or menu is open. */
export function useHoldWhile(isOpen: boolean): void {
  useEffect(() => {
    if (!isOpen) return
    openLists++
    return () => {
      openLists--
      notify()
    }
  }, [isOpen])
}

/** The newest value, or the last shown one while values are held back. */
export function useHeldValue<T>(value: T): T {
  const shown = useRef(value)
  const now = useSyncExternalStore(subscribe, () => (openLists > 0 || isPressed ? shown.current : value))
  useLayoutEffect(() => {
    shown.current = now
  })
  return now
}
