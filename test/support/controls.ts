import type { FrameLocator, Locator, Page } from 'playwright-core'

type Scope = Page | Locator | FrameLocator

/** Opens a chip of the controls by its name, or the menu by `⋯`; an open one stays open. */
export async function openChip(scope: Scope, name: string): Promise<void> {
  const chip = scope.locator(`.tools details:has(summary:has-text("${name}"))`).first()
  if ((await chip.getAttribute('open')) === null) await chip.locator('summary').click()
}

/** Fills the slider or number box of a parameter. */
export async function setParameter(
  scope: Scope,
  name: string,
  value: string,
  role: 'slider' | 'spinbutton' = 'slider',
) {
  await openChip(scope, name)
  await scope.getByRole(role, { name }).fill(value)
}

/** Chooses a period by its text or place in the list. */
export async function choosePeriod(scope: Scope, option: string | { index: number }): Promise<void> {
  await openChip(scope, 'Period')
  await scope.locator('select[data-do=period]').selectOption(option)
}

/** Presses a button, or sets a box, of the menu. */
export async function inMenu(scope: Scope, use: () => Promise<unknown>): Promise<void> {
  await openChip(scope, '⋯')
  await use()
}
