import { colorText } from '../color/color.js'
import { PAPER, PIGMENTS, SOOT } from '../color/pigments.js'

const STYLE = `:host{display:block}
div{background:${colorText(PAPER)};color:${colorText(SOOT)};border-left:4px solid ${colorText(PIGMENTS.coral.body)};
padding:16px 20px;font:15px/1.5 "Source Sans 3","Segoe UI",-apple-system,Roboto,sans-serif}
p{margin:0 0 4px}p:first-child{font-weight:600;margin-bottom:8px}`

/** Shows why a report is not shown, with one line for each problem. */
export function showRefused(root: ShadowRoot, error: unknown): void {
  const { ownerDocument: page } = root
  const [style, box] = [page.createElement('style'), page.createElement('div')]
  style.textContent = STYLE
  box.setAttribute('role', 'alert')
  const lines = String(error instanceof Error ? error.message : error).split('\n')
  for (const line of ['This report cannot be shown.', ...lines]) {
    const part = page.createElement('p')
    part.textContent = line
    box.append(part)
  }
  root.replaceChildren(style, box)
}
