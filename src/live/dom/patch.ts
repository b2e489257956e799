/**
 * Turns the children of one element into those of another with the fewest changes: an equal cell
 * keeps its node, so that focus, selection and scroll position stay. Nodes are matched by position,
 * which fits tables whose rows stay in place.
 */
export function patchChildren(to: Node, from: Node): void {
  let own = to.firstChild
  let next = from.firstChild
  while (next !== null) {
    const following = next.nextSibling
    if (own === null) to.appendChild(next)
    else {
      const after: ChildNode | null = own.nextSibling
      patchNode(own, next)
      own = after
    }
    next = following
  }
  while (own !== null) {
    const after: ChildNode | null = own.nextSibling
    own.remove()
    own = after
  }
}

/** Turns one node into another; nodes of different kinds are replaced. */
export function patchNode(own: ChildNode, next: ChildNode): void {
  if (own.nodeType !== next.nodeType || own.nodeName !== next.nodeName) {
    own.replaceWith(next)
    return
  }
  if (own.nodeType !== Node.ELEMENT_NODE) {
    if (own.nodeValue !== next.nodeValue) own.nodeValue = next.nodeValue
    return
  }
  const [element, wanted] = [own as Element, next as Element]
  if (element.isEqualNode(wanted)) return
  // Drawings are replaced: they have too many parts to match.
  if (element.nodeName.toLowerCase() === 'svg') {
    element.replaceWith(wanted)
    return
  }
  patchAttributes(element, wanted)
  // The rows of a virtual table are written by `virtual-rows.ts`.
  if (element.hasAttribute('data-rows')) return
  patchChildren(element, wanted)
}

/**
 * Attributes that the reader changes are kept: whether an element is open, and where focus may go.
 */
const KEPT = new Set(['open', 'tabindex'])

function patchAttributes(own: Element, next: Element): void {
  for (const { name } of [...own.attributes]) if (!next.hasAttribute(name) && !KEPT.has(name)) own.removeAttribute(name)
  for (const { name, value } of [...next.attributes])
    if (own.getAttribute(name) !== value) own.setAttribute(name, value)
}
