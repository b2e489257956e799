/**
 * Turns the children of one element into those of another with the fewest changes: an equal cell
 * keeps its node, so that focus, selection and scroll position stay. Nodes are matched by position,
 * which fits tables whose rows stay in place.
 */
export function patchChildren(to: Node, from: Node): void {
  let node = to.firstChild
  let next = from.firstChild
  while (next !== null) {
    const following = next.nextSibling
    if (node === null) to.appendChild(next)
    else {
      const after: ChildNode | null = node.nextSibling
      patchNode(node, next)
      node = after
    }
    next = following
  }
  while (node !== null) {
    const after: ChildNode | null = node.nextSibling
    node.remove()
    node = after
  }
}

/** Turns one node into another; nodes of different kinds are replaced. */
export function patchNode(node: ChildNode, next: ChildNode): void {
  if (node.nodeType !== next.nodeType || node.nodeName !== next.nodeName) {
    node.replaceWith(next)
    return
  }
  if (node.nodeType !== Node.ELEMENT_NODE) {
    if (node.nodeValue !== next.nodeValue) node.nodeValue = next.nodeValue
    return
  }
  const [element, wanted] = [node as Element, next as Element]
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

function patchAttributes(element: Element, next: Element): void {
  for (const { name } of [...element.attributes])
    if (!next.hasAttribute(name) && !KEPT.has(name)) element.removeAttribute(name)
  for (const { name, value } of [...next.attributes])
    if (element.getAttribute(name) !== value) element.setAttribute(name, value)
}
