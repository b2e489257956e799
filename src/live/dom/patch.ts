/**
 * Makes the children of one element those of another, changing no more than differs: a cell that
 * looks as before stays the same node, so that focus, selection and scrolling stay, too. Nodes are
 * matched by their place; that is right for tables whose rows stay where they are.
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

/** Makes one node another; where they are of different kinds it is replaced. */
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
  // Drawings are made anew: their parts are too many to be worth matching.
  if (element.nodeName.toLowerCase() === 'svg') {
    element.replaceWith(wanted)
    return
  }
  patchAttributes(element, wanted)
  // The rows of a long table are written by its window.
  if (element.hasAttribute('data-rows')) return
  patchChildren(element, wanted)
}

/** What the reader did to an element is kept: whether it is open, and where focus may go. */
const KEPT = new Set(['open', 'tabindex'])

function patchAttributes(own: Element, next: Element): void {
  for (const { name } of [...own.attributes]) if (!next.hasAttribute(name) && !KEPT.has(name)) own.removeAttribute(name)
  for (const { name, value } of [...next.attributes])
    if (own.getAttribute(name) !== value) own.setAttribute(name, value)
}
