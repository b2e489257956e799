import { Menu, MenuButton, MenuItem, MenuProvider } from '@ariakit/react'
import { useState } from 'react'
import { useHoldWhile } from './layout-shift.js'

export interface Pick {
  value: string
  /** What is read; default: the value. */
  text?: string
  /** What it is for, beside it. */
  hint?: string | undefined
}

interface Props {
  /** The name of the button and of its menu. */
  label: string
  /** What stands on the button; default: its name. */
  children?: string
  className?: string
  isNew?: boolean
  picks: readonly Pick[]
  onPick(value: string): void
}

/**
 * A button with a menu of what it may add. A native list would act at the first arrow key, before
 * the wanted entry is reached; this one acts on Enter, space bar or a click alone.
 */
export function PickMenu({ label, children = label, className, isNew = false, picks, onPick }: Props) {
  const [isOpen, setOpen] = useState(false)
  useHoldWhile(isOpen)
  return (
    <MenuProvider open={isOpen} setOpen={setOpen}>
      <MenuButton {...{ className, autoFocus: isNew }} aria-label={label}>
        {children}
      </MenuButton>
      <Menu gutter={4} fixed unmountOnHide className="popover picks" aria-label={label}>
        {picks.map(({ value, text = value, hint }) => (
          <MenuItem key={value} className="item" data-value={value} onClick={() => onPick(value)}>
            <span>{text}</span>
            {hint !== undefined && <small>{hint}</small>}
          </MenuItem>
        ))}
      </Menu>
    </MenuProvider>
  )
}
