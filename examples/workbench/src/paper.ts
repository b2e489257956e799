/** Rules for paper that hold on the screen for now. */
const shown = new WeakSet<CSSMediaRule>()

/** Shows a page as it is printed: its rules for paper hold on the screen, until that is over. */
export function showOnPaper(element: HTMLElement, isPaper: boolean): void {
  for (const sheet of element.shadowRoot?.styleSheets ?? [])
    for (const rule of sheet.cssRules) {
      if (!(rule instanceof CSSMediaRule) || !(shown.has(rule) || rule.media.mediaText === 'print')) continue
      shown.add(rule)
      rule.media.mediaText = isPaper ? 'all' : 'print'
    }
}
